import { Paperclip } from 'lucide-react'
import { type FocusEvent, useMemo } from 'react'
import { Cell, Column, Row, Table, TableBody, TableHeader, TableLayout, Virtualizer } from 'react-aria-components'
import type { PapersRow } from '../../../contract'
import { CLAUSE_WORDS, USE_PLACE_WORDS, USE_PLACES } from '../../../core/rights'
import { messages } from '../../../messages'
import { dayWords, VERDICT_WORDS } from '../../format/words'
import { VerdictShape } from '../shared/VerdictMark'

const ROW_PX = 48
/** The names of the uses stand upright. */
const HEADING_PX = 136
const LAYOUT = { rowHeight: ROW_PX, headingHeight: HEADING_PX }
const USES: readonly string[] = [...USE_PLACES.map((place) => USE_PLACE_WORDS[place]), CLAUSE_WORDS.earning]
const MARK_PX = 30
const HEADING = 'flex h-full items-end border-b ruled bg-base-100 pb-1.5 small-label'

interface PapersGridProps {
  readonly rows: readonly PapersRow[]
  readonly selected: PapersRow | null
  readonly onSelect: (row: PapersRow) => void
}

/** Copies against uses: a mark for each, read by row. */
export function PapersGrid({ rows, selected, onSelect }: PapersGridProps) {
  const byKey = useMemo(() => new Map(rows.map((row) => [keyOf(row), row])), [rows])
  // A name that is typed moves the focus; what is shown beside the grid goes with it.
  const follow = ({ target }: FocusEvent<HTMLElement>): void => {
    const row = byKey.get(target.closest('[role=row]')?.getAttribute('data-key') ?? '')
    if (row) onSelect(row)
  }
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: it only hears which row of the grid has the focus
    <div className="flex min-h-0 flex-1 flex-col" onFocus={follow}>
      <Virtualizer layout={TableLayout} layoutOptions={LAYOUT}>
        <Table
          aria-label={messages.common.papers}
          selectionMode="single"
          selectionBehavior="replace"
          disallowEmptySelection
          selectedKeys={selected ? [keyOf(selected)] : []}
          onSelectionChange={(keys) => {
            const row = keys === 'all' ? undefined : byKey.get([...keys][0] as string)
            if (row) onSelect(row)
          }}
          className="min-h-0 flex-1 overflow-auto"
        >
          <TableHeader>
            <Column isRowHeader width="1.3fr" minWidth={192} className={`${HEADING} pl-4`}>
              {messages.common.sound}
            </Column>
            <Column width="1fr" minWidth={144} className={HEADING}>
              {messages.common.papers}
            </Column>
            {USES.map((use) => (
              <Column
                key={use}
                id={use}
                width={MARK_PX}
                minWidth={MARK_PX}
                className={`${HEADING} justify-center whitespace-nowrap`}
              >
                <span className="[writing-mode:sideways-lr]">{use}</span>
              </Column>
            ))}
            <Column width={100} className={`${HEADING} pl-2`}>
              {messages.papers.expires}
            </Column>
            <Column width={48} minWidth={48} className={HEADING}>
              <span className="sr-only">{messages.papers.evidence}</span>
            </Column>
          </TableHeader>
          <TableBody items={rows.map((row) => ({ id: keyOf(row), row }))}>
            {({ id, row }) => <PapersOf id={id} row={row} />}
          </TableBody>
        </Table>
      </Virtualizer>
    </div>
  )
}

/** The same sound may have several papers: a row is told by both. */
function keyOf({ soundId, grantId }: PapersRow): string {
  return `${soundId} ${grantId}`
}

function PapersOf({ id, row }: { id: string; row: PapersRow }) {
  return (
    <Row
      id={id}
      textValue={row.title}
      className={({ isSelected }) =>
        `h-full cursor-pointer border-b ruled ${isSelected ? 'bg-base-300' : 'hover:bg-base-200'}`
      }
    >
      <Cell className="flex h-full min-w-0 flex-col justify-center pr-3 pl-4">
        <span className="block truncate font-semibold leading-tight">{row.title}</span>
        <span className="quiet block truncate text-xs leading-tight">
          {[row.maker, row.sourceName].filter(Boolean).join(' · ')}
        </span>
      </Cell>
      <Cell className="flex h-full min-w-0 flex-col justify-center pr-2 text-sm leading-tight">
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
      </Cell>
      {row.marks.map((mark, place) => (
        <Cell key={USES[place]} className="grid h-full place-items-center">
          <span title={`${USES[place]}: ${VERDICT_WORDS[mark]}`}>
            <VerdictShape verdict={mark} sizePx={14} />
            <span className="sr-only">
              {USES[place]}: {VERDICT_WORDS[mark]}
            </span>
          </span>
        </Cell>
      ))}
      <Cell className="flex h-full items-center pl-2 text-sm tabular-nums">
        {row.expiresOn ? dayWords(row.expiresOn) : <span className="quiet">–</span>}
      </Cell>
      <Cell className="flex h-full items-center justify-end pr-4 text-sm">
        {row.evidence.length > 0 && (
          <span className="inline-flex items-center" title={messages.counts.evidenceFiles(row.evidence.length)}>
            <Paperclip size={14} aria-hidden="true" />
            <span className="sr-only">{messages.counts.evidenceFiles(row.evidence.length)}</span>
          </span>
        )}
      </Cell>
    </Row>
  )
}
