import { useVirtualizer } from '@tanstack/react-virtual'
import { Paperclip } from 'lucide-react'
import { useRef } from 'react'
import type { PapersRow } from '../../../contract'
import { CLAUSE_WORDS, USE_PLACE_WORDS, USE_PLACES } from '../../../core/rights'
import { messages } from '../../../messages'
import { dayWords, VERDICT_WORDS } from '../../format/words'
import { VerdictShape } from '../shared/VerdictMark'

const ROW_PX = 48
const COLUMNS = 'minmax(11rem,1.3fr) minmax(9rem,1fr) repeat(9,1.9rem) 6.2rem 2rem'
const USES: readonly string[] = [...USE_PLACES.map((place) => USE_PLACE_WORDS[place]), CLAUSE_WORDS.earning]

/** Copies against uses: a mark for each, read by row. */
export function PapersGrid(props: {
  rows: readonly PapersRow[]
  selected: PapersRow | null
  onSelect: (row: PapersRow) => void
}) {
  const { rows, selected, onSelect } = props
  const scrollRef = useRef<HTMLDivElement>(null)
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scrollRef.current,
    estimateSize: () => ROW_PX,
    overscan: 8,
  })
  const move = (index: number): void => {
    const row = rows[Math.max(0, Math.min(rows.length - 1, index))]
    if (!row) return
    onSelect(row)
    virtual.scrollToIndex(rows.indexOf(row))
  }
  const at = rows.findIndex((row) => isSame(row, selected))
  return (
    <div
      ref={scrollRef}
      role="grid"
      aria-label={messages.common.papers}
      aria-rowcount={rows.length + 1}
      tabIndex={0}
      className="min-h-0 flex-1 overflow-auto"
      onKeyDown={(event) => {
        const step = { ArrowDown: 1, ArrowUp: -1, PageDown: 10, PageUp: -10 }[event.key]
        if (step === undefined) return
        event.preventDefault()
        move(at + step)
      }}
    >
      <div role="presentation" className="min-w-[46rem]">
        <div
          role="row"
          className="sticky top-0 z-10 grid items-end border-b ruled bg-base-100 px-4 pb-1.5"
          style={{ gridTemplateColumns: COLUMNS }}
        >
          <span role="columnheader" className="small-label">
            {messages.common.sound}
          </span>
          <span role="columnheader" className="small-label">
            {messages.common.papers}
          </span>
          {USES.map((use) => (
            <span
              key={use}
              role="columnheader"
              className="small-label justify-self-center whitespace-nowrap [writing-mode:sideways-lr]"
            >
              {use}
            </span>
          ))}
          <span role="columnheader" className="small-label pl-2">
            {messages.papers.expires}
          </span>
          <span role="columnheader" className="sr-only">
            {messages.papers.evidence}
          </span>
        </div>
        <div role="presentation" className="relative" style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map(({ index, start }) => (
            <Row
              key={`${rows[index]?.soundId} ${rows[index]?.grantId}`}
              row={rows[index] as PapersRow}
              index={index}
              topPx={start}
              selected={isSame(rows[index] as PapersRow, selected)}
              onSelect={onSelect}
            />
          ))}
        </div>
      </div>
    </div>
  )
}

/** The same sound may have several papers: a row is told by both. */
function isSame(row: PapersRow, other: PapersRow | null): boolean {
  return row.soundId === other?.soundId && row.grantId === other.grantId
}

function Row(props: {
  row: PapersRow
  index: number
  topPx: number
  selected: boolean
  onSelect: (row: PapersRow) => void
}) {
  const { row, index, topPx, selected, onSelect } = props
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the grid handles the keys for all rows
    <div
      role="row"
      aria-rowindex={index + 2}
      aria-selected={selected}
      tabIndex={-1}
      className={`absolute inset-x-0 grid cursor-pointer items-center border-b ruled px-4 ${
        selected ? 'bg-base-300' : 'hover:bg-base-200'
      }`}
      style={{ gridTemplateColumns: COLUMNS, height: ROW_PX, top: topPx }}
      onClick={() => onSelect(row)}
    >
      <span role="gridcell" className="min-w-0 pr-3">
        <span className="block truncate font-semibold leading-tight">{row.title}</span>
        <span className="quiet block truncate text-xs leading-tight">
          {[row.maker, row.sourceName].filter(Boolean).join(' · ')}
        </span>
      </span>
      <span role="gridcell" className="min-w-0 pr-2 text-sm leading-tight">
        <span className="block truncate">{row.grantId === null ? messages.papers.noPapers : row.termsTitle}</span>
        <span className="quiet block truncate text-xs">
          {row.grantId === null
            ? messages.papers.nothingOnFileSaysWhat
            : [
                row.declared && messages.papers.onTheWordOf(row.declared.by || messages.papers.theCreator),
                messages.papers.version(row.termsVersion),
                row.paid,
              ]
                .filter(Boolean)
                .join(' · ')}
        </span>
      </span>
      {row.marks.map((mark, place) => (
        <span
          role="gridcell"
          key={USES[place]}
          className="justify-self-center"
          title={`${USES[place]}: ${VERDICT_WORDS[mark]}`}
        >
          <VerdictShape verdict={mark} sizePx={14} />
          <span className="sr-only">
            {USES[place]}: {VERDICT_WORDS[mark]}
          </span>
        </span>
      ))}
      <span role="gridcell" className="pl-2 text-sm tabular-nums">
        {row.expiresOn ? dayWords(row.expiresOn) : <span className="quiet">–</span>}
      </span>
      <span role="gridcell" className="justify-self-end text-sm">
        {row.evidence.length > 0 && (
          <span className="inline-flex items-center" title={messages.counts.evidenceFiles(row.evidence.length)}>
            <Paperclip size={14} aria-hidden="true" />
            <span className="sr-only">{messages.counts.evidenceFiles(row.evidence.length)}</span>
          </span>
        )}
      </span>
    </div>
  )
}
