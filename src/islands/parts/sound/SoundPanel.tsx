import { ArrowLeft } from 'lucide-react'
import { useState } from 'react'
import type { SoundDetail } from '../../../contract'
import { messages } from '../../../messages'
import { useSound } from '../../api/queries'
import { fitCondition, lengthWords } from '../../format/words'
import type { FindState } from '../../state/find-state'
import { Failed, Loading } from '../shared/States'
import { UsedInList } from '../shared/UsedInList'
import { FitMark } from '../shared/VerdictMark'
import { Reasons } from '../terms/Reasons'
import { TermsDialog } from '../terms/TermsDialog'
import { Acquire } from './PanelAcquire'
import { PanelChoices } from './PanelChoices'
import { PanelFind } from './PanelFind'
import { PanelPapers } from './PanelPapers'
import { PanelWords } from './PanelWords'

interface SoundPanelProps {
  readonly id: number
  readonly papersFirst?: boolean
  /** Whether it is said where the sound is heard; the Shelf says it by itself. */
  readonly withUses?: boolean
  /** What to do with a new search; where it is left out, Find is gone to. */
  readonly onFind?: (state: FindState) => void
}

/** The selected sound: facts, what its terms allow for the video in hand, papers, and the way to a copy. */
export function SoundPanel(props: SoundPanelProps) {
  // Another sound is shown as itself, whatever was opened of the one before.
  return <OpenPanel key={props.id} {...props} />
}

function OpenPanel({ id, papersFirst = false, withUses = true, onFind }: SoundPanelProps) {
  const [shownId, setShownId] = useState(id)
  const query = useSound(shownId)
  if (query.isPending) return <Loading what={messages.sound.readingItsTerms} />
  if (query.isError) return <Failed error={query.error} onRetry={() => void query.refetch()} />
  const sound = query.data
  return (
    <div className="space-y-5 p-5">
      <header>
        {sound.choiceOf && shownId !== id && (
          <button type="button" className="btn btn-ghost btn-xs -ml-2 mb-1" onClick={() => setShownId(id)}>
            <ArrowLeft size={14} aria-hidden="true" /> {messages.sound.backTo(sound.choiceOf.title)}
          </button>
        )}
        <h2 className="text-xl font-semibold">{sound.title}</h2>
        <p className="quiet">{[sound.maker, sound.source.name].filter(Boolean).join(' · ')}</p>
        {sound.originalTitle && <p className="quiet text-sm">{messages.sound.itCameAs(sound.originalTitle)}</p>}
        {sound.withdrawn && <p className="mt-1 text-error">{messages.sound.withdrawnByItsLibraryCopies}</p>}
      </header>
      {papersFirst && <PanelPapers sound={sound} />}
      <PanelFind sound={sound} onFind={onFind} />
      <Acquire sound={sound} />
      <PanelChoices sound={sound} onOpen={setShownId} />
      <Fit sound={sound} />
      {!papersFirst && <PanelPapers sound={sound} />}
      {sound.source.kind !== 'library' && <PanelWords key={sound.id} sound={sound} />}
      {withUses && (
        <section aria-label={messages.sound.usedIn}>
          <h3 className="mb-2 border-b ruled pb-1 text-base font-semibold">{messages.sound.usedIn}</h3>
          <UsedInList usedIn={sound.usedIn} />
        </section>
      )}
      <Facts sound={sound} />
    </div>
  )
}

function Fit({ sound }: { sound: SoundDetail }) {
  return (
    <section aria-label={messages.sound.fitWithTheVideoIn}>
      <h3 className="mb-2 flex items-center justify-between gap-2 border-b ruled pb-1 text-base font-semibold">
        {messages.sound.inThisVideo(
          <span className="font-sans text-sm font-normal">
            <FitMark fit={sound.fit} condition={fitCondition(sound)} />
          </span>,
        )}
      </h3>
      {sound.reasons.length === 0 ? (
        <p className="quiet">{messages.sound.chooseOrAddAVideo}</p>
      ) : (
        <Reasons reasons={sound.reasons} />
      )}
      {sound.settlements.length > 0 && sound.fit !== 'fits' && (
        <div className="mt-3">
          <p className="small-label">{messages.common.whatWouldSettleIt}</p>
          <ul className="list-disc pl-5 leading-snug">
            {sound.settlements.map((sentence) => (
              <li key={sentence}>{sentence}</li>
            ))}
          </ul>
        </div>
      )}
      {sound.papers.length === 0 && (
        <p className="mt-2">
          <WholeText id={sound.terms.id} />
        </p>
      )}
    </section>
  )
}

/** Opens the text that a decision rests on. */
function WholeText({ id }: { id: number }) {
  const [open, setOpen] = useState(false)
  return (
    <>
      <button type="button" className="btn btn-ghost btn-xs -ml-2" onClick={() => setOpen(true)}>
        {messages.sound.readTheWholeText}
      </button>
      {open && <TermsDialog id={id} onClose={() => setOpen(false)} />}
    </>
  )
}

function Facts({ sound }: { sound: SoundDetail }) {
  const facts: readonly (readonly [string, string])[] = [
    [
      messages.common.length,
      `${lengthWords(sound.durationS)}${sound.listedDurationS === null ? '' : messages.sound.listedAs(lengthWords(sound.listedDurationS))}`,
    ],
    [
      messages.common.loudness,
      sound.loudnessLufs === null ? messages.sound.notMeasured : `${sound.loudnessLufs.toFixed(1)} LUFS`,
    ],
    [messages.sound.hit, sound.hitS === null ? messages.sound.noneFound : `${sound.hitS.toFixed(2)} s`],
    [messages.sound.format, sound.formats.join(', ').toUpperCase()],
    ...(sound.folderFile ? [[messages.common.file, sound.folderFile] as const] : []),
    [messages.sound.categoryFact, sound.category || messages.sound.noneGiven],
    [messages.sound.tags, sound.tags.join(', ') || messages.sound.none],
    ...musicFacts(sound),
    [messages.common.terms, `${sound.terms.title}, ${sound.terms.version}`],
  ]
  return (
    <section aria-label={messages.sound.facts}>
      <h3 className="mb-2 border-b ruled pb-1 text-base font-semibold">{messages.sound.facts}</h3>
      <dl className="grid grid-cols-[5.500rem_1fr] gap-x-2 gap-y-1 text-sm">
        {facts.map(([name, value]) => (
          <div key={name} className="contents">
            <dt className="quiet">{name}</dt>
            <dd className="min-w-0 break-words">{value}</dd>
          </div>
        ))}
      </dl>
    </section>
  )
}

/** Tempo, mood and voices, where the source tells them. */
function musicFacts({ kind, tempoBpm, mood, vocals }: SoundDetail): (readonly [string, string])[] {
  if (kind !== 'music') return []
  const voices = vocals === null ? messages.sound.notTold : vocals ? messages.common.yes : messages.common.no
  return [
    [messages.sound.tempo, tempoBpm === null ? messages.sound.notTold : messages.sound.bpm(tempoBpm)],
    [messages.sound.mood, mood ?? messages.sound.notTold],
    [messages.sound.voices, voices],
  ]
}
