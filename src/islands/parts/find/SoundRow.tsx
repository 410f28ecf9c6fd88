import { Bookmark, Check, Columns2, Download, ShoppingBag } from 'lucide-react'
import { memo } from 'react'
import type { ListState } from 'react-stately'
import type { SoundSummary } from '../../../contract'
import { type PlaceForSound, placeFit } from '../../../core/moments'
import { messages } from '../../../messages'
import { isUnderWay } from '../../api/job-list'
import { useJobOf } from '../../api/jobs'
import { usePlayer } from '../../audio/player'
import { fitCondition, lengthWords } from '../../format/words'
import { SOUND_DRAG_TYPE } from '../../score/sound-drag'
import { PrintView } from '../shared/PrintView'
import { useSoundRow } from '../shared/use-sound-rows'
import { FitMark } from '../shared/VerdictMark'

export const ROW_PX = 44
export const PRINT_PX = 156
/** Seconds that the print column shows: one scale for all rows, so that length is seen. */
export const SCALE_S = 6

interface SoundRowProps extends CellsProps {
  readonly state: ListState<SoundSummary>
  readonly topPx: number
  readonly picked: boolean
  readonly onPickUp: (index: number) => void
}

interface CellsProps {
  readonly sound: SoundSummary
  readonly index: number
  readonly selected: boolean
  readonly pinned: boolean
  readonly fitEach: boolean
  readonly onHear: (index: number, fromS?: number) => void
  readonly onDownload: (sound: SoundSummary) => void
  readonly onKeep: (sound: SoundSummary) => void
  readonly onPin: (sound: SoundSummary) => void
  /** The place of the moment that is looked for, or null. */
  readonly place: PlaceForSound | null
  /** On the short list of that moment. */
  readonly listed: boolean
  readonly onList: (sound: SoundSummary) => void
}

/** One result: its print on the shared scale, length and loudness, source and cost, what its terms allow, and its state. */
export function SoundRow({ state, topPx, picked, onPickUp, ...cells }: SoundRowProps) {
  const { sound, index, selected, onHear } = cells
  const { ref, rowProps } = useSoundRow(state, sound.id)
  const ground = selected
    ? 'bg-base-300 shadow-[inset_4px_0_0_var(--color-primary)]'
    : picked
      ? 'bg-base-200 shadow-[inset_4px_0_0_var(--color-base-content)]'
      : 'hover:bg-base-200'
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the grid handles the keys
    <div
      ref={ref}
      role="row"
      {...rowProps}
      id={`sound-${sound.id}`}
      aria-rowindex={index + 2}
      aria-selected={selected || picked}
      data-selected={selected}
      className={`sound-columns absolute inset-x-0 grid cursor-default items-center gap-2.5 px-4 ${ground}`}
      data-for-moment={cells.place !== null}
      style={{ height: ROW_PX, top: topPx }}
      draggable
      onDragStart={({ dataTransfer }) => {
        dataTransfer.setData(SOUND_DRAG_TYPE, String(sound.id))
        dataTransfer.effectAllowed = 'copy'
      }}
      onClick={(event) => (event.ctrlKey || event.metaKey || event.shiftKey ? onPickUp(index) : onHear(index))}
    >
      <SoundCells {...cells} />
    </div>
  )
}

/** What the row says; drawn anew only when that changes, and not with the focus. */
const SoundCells = memo(function SoundCells(props: CellsProps) {
  const { sound, index, selected, fitEach, onHear } = props
  return (
    <>
      <span role="gridcell" className="min-w-0">
        <span className="block truncate font-semibold leading-tight" title={sound.title}>
          {sound.title}
        </span>
        <span className={`block truncate text-xs leading-tight ${selected ? '' : 'quiet'}`}>
          {sound.likeness ? (
            <Difference likeness={sound.likeness} />
          ) : (
            [sound.maker, choiceWords(sound) || sound.category].filter(Boolean).join(' · ')
          )}
        </span>
      </span>
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: the row below handles clicks beside the print */}
      <span role="gridcell" className="border-l ruled" onClick={(event) => event.stopPropagation()}>
        <RowPrint sound={sound} fitEach={fitEach} onHear={(at) => onHear(index, at)} />
      </span>
      {props.place ? (
        <FitThere sound={sound} place={props.place} listed={props.listed} onList={props.onList} selected={selected} />
      ) : (
        <span role="gridcell">
          <span className="block leading-tight">{lengthWords(sound.durationS)}</span>
          <span className={`block whitespace-nowrap text-xs leading-tight ${selected ? '' : 'quiet'}`}>
            {sound.loudnessLufs === null ? '' : messages.find.lufs(sound.loudnessLufs.toFixed(1))}
          </span>
        </span>
      )}
      <span role="gridcell" className="min-w-0">
        <span className="block truncate text-sm leading-tight">{sound.source.name}</span>
        <span className={`block truncate text-xs leading-tight ${selected ? '' : 'quiet'}`}>{sound.cost}</span>
      </span>
      <span role="gridcell" className="min-w-0 text-sm leading-tight">
        <FitMark fit={sound.fit} condition="" />
        <span className={`block truncate text-xs leading-tight ${selected ? '' : 'quiet'}`}>
          {[fitCondition(sound), sound.licence].filter(Boolean).join(' · ')}
        </span>
      </span>
      <span role="gridcell" className="flex items-center justify-end gap-0.5">
        <StateMarks {...props} />
      </span>
    </>
  )
})

interface FitThereProps {
  readonly sound: SoundSummary
  readonly place: PlaceForSound
  readonly listed: boolean
  readonly selected: boolean
  readonly onList: (sound: SoundSummary) => void
}

/** How a sound would fit at the moment: its length there, its hit, its level, and whether it is on the short list. */
function FitThere({ sound, place, listed, selected, onList }: FitThereProps) {
  const { length, lengthWords: words, hitWords, gainDb } = placeFit(sound, place)
  return (
    <span role="gridcell" className="flex min-w-0 items-center gap-1.5">
      <button
        type="button"
        tabIndex={-1}
        className={`btn btn-xs btn-square shrink-0 ${listed ? 'btn-neutral' : ''}`}
        aria-pressed={listed}
        aria-label={messages.find.shortList(sound.title)}
        onClick={(event) => {
          event.stopPropagation()
          onList(sound)
        }}
      >
        {listed ? <Check size={14} aria-hidden="true" /> : 'A'}
      </button>
      <span className="min-w-0 leading-tight" title={`${words}, ${hitWords}`}>
        <span className={`block truncate text-sm ${length === 'fits' ? 'font-semibold' : ''}`}>
          {length === 'fits' ? messages.find.fits(words) : words}
        </span>
        <span className={`block truncate text-xs ${selected ? '' : 'quiet'}`}>
          {hitWords}
          {gainDb !== null && messages.find.db(gainDb > 0 ? '+' : '', gainDb)}
        </span>
      </span>
    </span>
  )
}

function Difference({ likeness }: { likeness: NonNullable<SoundSummary['likeness']> }) {
  const { fraction, differences } = likeness
  return messages.find.alike(Math.round(fraction * 100), differences.length > 0 ? ` · ${differences.join(', ')}` : '')
}

function RowPrint({
  sound,
  fitEach,
  onHear,
}: {
  sound: SoundSummary
  fitEach: boolean
  onHear: (atS: number) => void
}) {
  const player = usePlayer()
  const current = player.sound?.id === sound.id
  if (!sound.print) return <span className="quiet pl-2 text-xs">{messages.find.notListenedToYet}</span>
  return (
    <PrintView
      print={sound.print}
      durationS={sound.durationS}
      widthPx={PRINT_PX}
      heightPx={34}
      pxPerS={PRINT_PX / (fitEach ? Math.max(0.05, sound.durationS) : SCALE_S)}
      clock={current ? player.clock : null}
      part={current ? player.part : null}
      onPick={onHear}
      {...(player.options.hover ? { onHover: () => player.play(sound) } : {})}
    />
  )
}

/** Used before, kept, pinned, and whether a copy is here; else the button that fetches one. */
function StateMarks({ sound, pinned, onDownload, onKeep, onPin }: CellsProps) {
  return (
    <>
      {sound.usedCount > 0 && (
        <span className="mr-0.5 text-xs" title={messages.find.heardIn(messages.counts.videos(sound.usedCount))}>
          {sound.usedCount}×<span className="sr-only"> {messages.find.usedBeforeMark}</span>
        </span>
      )}
      <button
        type="button"
        tabIndex={-1}
        className={`btn btn-xs btn-square ${pinned ? 'btn-neutral' : 'btn-ghost'}`}
        aria-pressed={pinned}
        aria-label={messages.find.compareSound(sound.title)}
        onClick={(event) => {
          event.stopPropagation()
          onPin(sound)
        }}
      >
        <Columns2 size={15} aria-hidden="true" />
      </button>
      <button
        type="button"
        tabIndex={-1}
        className="btn btn-ghost btn-xs btn-square"
        aria-pressed={sound.kept}
        aria-label={messages.find.keep(sound.title)}
        onClick={(event) => {
          event.stopPropagation()
          onKeep(sound)
        }}
      >
        <Bookmark size={15} aria-hidden="true" fill={sound.kept ? 'currentColor' : 'none'} />
      </button>
      <HereMark sound={sound} onDownload={onDownload} />
    </>
  )
}

/** Whether a copy is here; else the button that fetches one. */
function HereMark({ sound, onDownload }: { sound: SoundSummary; onDownload: (sound: SoundSummary) => void }) {
  const job = useJobOf('download', String(sound.id))
  if (sound.copySha256)
    return (
      <span className="inline-flex w-6 justify-center" title={messages.find.aCopyIsHereWith}>
        <Check size={16} aria-hidden="true" />
        <span className="sr-only">{messages.common.aCopyIsHere}</span>
      </span>
    )
  if (isUnderWay(job))
    return (
      <span
        className="radial-progress text-[0px]"
        style={
          { '--value': job.progressFraction * 100, '--size': '1.4rem', '--thickness': '3px' } as React.CSSProperties
        }
        role="progressbar"
        aria-label={messages.find.downloading(sound.title)}
        aria-valuenow={Math.round(job.progressFraction * 100)}
      />
    )
  return (
    <button
      type="button"
      tabIndex={-1}
      className="btn btn-ghost btn-xs btn-square"
      aria-label={sound.sold ? messages.find.seeWhatCosts(sound.title) : messages.find.download(sound.title)}
      onClick={(event) => {
        // What is sold is chosen at the side: the row is selected.
        if (sound.sold) return
        event.stopPropagation()
        onDownload(sound)
      }}
    >
      {sound.sold ? <ShoppingBag size={15} aria-hidden="true" /> : <Download size={15} aria-hidden="true" />}
    </button>
  )
}

/** That a sound is to be had in more than the whole; its category is that of all music. */
function choiceWords({ choiceCount }: SoundSummary): string {
  return choiceCount > 0 ? messages.counts.choices(choiceCount) : ''
}
