import { Check, Download, Play, Square } from 'lucide-react'
import type { ChoiceWire, SoundDetail } from '../../../contract'
import { CHOICE_ROLES, type ChoiceRole } from '../../../core/sound-choices'
import { messages } from '../../../messages'
import { isUnderWay } from '../../api/job-list'
import { useJobOf } from '../../api/jobs'
import { useFillIn } from '../../api/live-queries'
import { useDownload } from '../../api/queries'
import { usePlayer } from '../../audio/player'
import { lengthWords } from '../../format/words'
import { FitMark } from '../shared/VerdictMark'

const ROLE_WORDS: Readonly<Record<ChoiceRole, string>> = {
  stem: messages.sound.stems,
  part: messages.sound.parts,
  version: messages.sound.versions,
}

interface PanelChoicesProps {
  readonly sound: SoundDetail
  /** Shows one of them by itself, with its terms, prices and papers. */
  readonly onOpen: (soundId: number) => void
}

/** The stems, parts and versions of an entry: each is heard and taken by itself. */
export function PanelChoices({ sound, onOpen }: PanelChoicesProps) {
  useFillIn(sound.choices)
  if (sound.choices.length === 0) return null
  return (
    <section aria-label={messages.sound.stemsAndVersions}>
      {CHOICE_ROLES.map((role) => {
        const choices = sound.choices.filter((one) => one.role === role)
        return choices.length === 0 ? null : (
          <div key={role} className="mb-3">
            <h3 className="mb-1 border-b ruled pb-1 text-base font-semibold">{ROLE_WORDS[role]}</h3>
            <ul>
              {choices.map((choice) => (
                <ChoiceLine key={choice.id} choice={choice} onOpen={onOpen} />
              ))}
            </ul>
          </div>
        )
      })}
    </section>
  )
}

interface ChoiceLineProps {
  readonly choice: ChoiceWire
  readonly onOpen: (soundId: number) => void
}

function ChoiceLine({ choice, onOpen }: ChoiceLineProps) {
  const player = usePlayer()
  const isPlaying = player.playing && player.sound?.id === choice.id
  return (
    <li className="flex items-center gap-2 py-0.5">
      <button
        type="button"
        className="btn btn-ghost btn-sm btn-square"
        aria-label={`${isPlaying ? messages.common.stop : messages.sound.play} ${choice.name}`}
        onClick={() => (isPlaying ? player.stop() : player.play(choice))}
      >
        {isPlaying ? <Square size={15} aria-hidden="true" /> : <Play size={15} aria-hidden="true" />}
      </button>
      <span className="min-w-0 flex-1 leading-tight">
        <button type="button" className="link block max-w-full truncate" onClick={() => onOpen(choice.id)}>
          {choice.name}
        </button>
        <span className="quiet flex items-center gap-2 text-xs">
          {lengthWords(choice.durationS)}
          {choice.copySha256 !== null && <FitMark fit={choice.fit} condition="" />}
        </span>
      </span>
      <Take choice={choice} onOpen={onOpen} />
    </li>
  )
}

/** The way to a copy of one choice. What is bought is bought where its prices are. */
function Take({ choice, onOpen }: ChoiceLineProps) {
  const download = useDownload()
  const job = useJobOf('download', String(choice.id))
  const running = isUnderWay(job)
  const problem = job?.state === 'failed' ? job.message : download.error?.message
  if (choice.copySha256 !== null)
    return (
      <span className="flex items-center gap-1 px-2 text-sm">
        <Check size={15} aria-hidden="true" /> {messages.sound.here}
      </span>
    )
  if (choice.sold)
    return (
      <button type="button" className="btn btn-sm" onClick={() => onOpen(choice.id)}>
        {messages.sound.prices(<span className="sr-only">{messages.sound.of(choice.name)}</span>)}
      </button>
    )
  return (
    <span className="shrink-0 text-right">
      <button
        type="button"
        className="btn btn-sm"
        disabled={running || download.isPending || choice.withdrawn}
        onClick={() => download.mutate({ id: choice.id, format: null })}
      >
        <Download size={15} aria-hidden="true" /> {running ? messages.sound.downloading : messages.sound.downloadButton}
        <span className="sr-only">{choice.name}</span>
      </button>
      {problem && (
        <span role="alert" className="block text-xs text-error">
          {problem}
        </span>
      )}
    </span>
  )
}
