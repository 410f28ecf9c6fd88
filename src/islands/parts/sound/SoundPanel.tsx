import { useState } from 'react'
import type { SoundDetail } from '../../../contract'
import { useSound } from '../../api/queries'
import { fitCondition, lengthWords } from '../../format/words'
import type { FindState } from '../../state/find-state'
import { Failed, Loading } from '../shared/States'
import { UsedInList } from '../shared/UsedInList'
import { FitMark } from '../shared/VerdictMark'
import { Reasons } from '../terms/Reasons'
import { TermsDialog } from '../terms/TermsDialog'
import { Acquire } from './PanelAcquire'
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
export function SoundPanel({ id, papersFirst = false, withUses = true, onFind }: SoundPanelProps) {
  const query = useSound(id)
  if (query.isPending) return <Loading what="Reading its terms" />
  if (query.isError) return <Failed error={query.error} onRetry={() => void query.refetch()} />
  const sound = query.data
  return (
    <div className="space-y-5 p-5">
      <header>
        <h2 className="text-xl font-semibold">{sound.title}</h2>
        <p className="quiet">{[sound.maker, sound.source.name].filter(Boolean).join(' · ')}</p>
        {sound.originalTitle && <p className="quiet text-sm">It came as “{sound.originalTitle}”.</p>}
        {sound.withdrawn && (
          <p className="mt-1 text-error">Withdrawn by its library; copies and papers here stay valid.</p>
        )}
      </header>
      {papersFirst && <PanelPapers sound={sound} />}
      <PanelFind sound={sound} onFind={onFind} />
      <Acquire sound={sound} />
      <Fit sound={sound} />
      {!papersFirst && <PanelPapers sound={sound} />}
      {sound.source.kind !== 'library' && <PanelWords key={sound.id} sound={sound} />}
      {withUses && (
        <section aria-label="Used in">
          <h3 className="mb-2 border-b ruled pb-1 text-base font-semibold">Used in</h3>
          <UsedInList usedIn={sound.usedIn} />
        </section>
      )}
      <Facts sound={sound} />
    </div>
  )
}

function Fit({ sound }: { sound: SoundDetail }) {
  return (
    <section aria-label="Fit with the video in hand">
      <h3 className="mb-2 flex items-center justify-between gap-2 border-b ruled pb-1 text-base font-semibold">
        In this video{' '}
        <span className="font-sans text-sm font-normal">
          <FitMark fit={sound.fit} condition={fitCondition(sound)} />
        </span>
      </h3>
      {sound.reasons.length === 0 ? (
        <p className="quiet">Choose or add a video in the top bar to see what its uses need.</p>
      ) : (
        <Reasons reasons={sound.reasons} />
      )}
      {sound.settlements.length > 0 && sound.fit !== 'fits' && (
        <div className="mt-3">
          <p className="small-label">What would settle it</p>
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
        Read the whole text
      </button>
      {open && <TermsDialog id={id} onClose={() => setOpen(false)} />}
    </>
  )
}

function Facts({ sound }: { sound: SoundDetail }) {
  const facts: readonly (readonly [string, string])[] = [
    [
      'Length',
      `${lengthWords(sound.durationS)}${sound.listedDurationS === null ? '' : `, listed as ${lengthWords(sound.listedDurationS)}`}`,
    ],
    ['Loudness', sound.loudnessLufs === null ? 'not measured' : `${sound.loudnessLufs.toFixed(1)} LUFS`],
    ['Hit', sound.hitS === null ? 'none found' : `${sound.hitS.toFixed(2)} s`],
    ['Format', sound.formats.join(', ').toUpperCase()],
    ...(sound.folderFile ? [['File', sound.folderFile] as const] : []),
    ['Category', sound.category || 'none given'],
    ['Tags', sound.tags.join(', ') || 'none'],
    ...musicFacts(sound),
    ['Terms', `${sound.terms.title}, ${sound.terms.version}`],
  ]
  return (
    <section aria-label="Facts">
      <h3 className="mb-2 border-b ruled pb-1 text-base font-semibold">Facts</h3>
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
  const voices = vocals === null ? 'not told' : vocals ? 'yes' : 'no'
  return [
    ['Tempo', tempoBpm === null ? 'not told' : `${tempoBpm} bpm`],
    ['Mood', mood ?? 'not told'],
    ['Voices', voices],
  ]
}
