import { useState } from 'react'
import type { AnswerInput, PointWire, SoundSummary } from '../../../contract'
import { ABOUT_WHICH } from '../../../core/clearance'
import { messages } from '../../../messages'
import { useAnswers } from '../../api/clearance-queries'
import { useTakeIn } from '../../api/papers-queries'
import { useShell } from '../../api/queries'
import { DialogActions, DialogProblem, DialogTitle, ModalDialog } from '../shared/ModalDialog'
import { SoundPicker } from '../shared/SoundPicker'
import { answerWords, POINT_WORDS } from './point-words'

interface AnswerDialogProps {
  readonly videoId: number
  readonly point: PointWire
  readonly kind: AnswerInput['kind']
  readonly onClose: () => void
}

/** Asks who says so and why, before a point is settled by the creator's word. */
export function AnswerDialog({ videoId, point, kind, onClose }: AnswerDialogProps) {
  const shell = useShell()
  const { answer } = useAnswers(videoId)
  const [by, setBy] = useState<string | null>(null)
  const [reason, setReason] = useState('')
  // There is but one that it can be.
  const [only] = point.soundTitles
  const [from, setFrom] = useState<Pick<SoundSummary, 'id' | 'title'> | null>(
    point.kind === 'unsure' && only ? { id: only.soundId, title: only.title } : null,
  )
  const name = by ?? shell.data?.licensee ?? ''
  const submit = (event: React.FormEvent): void => {
    event.preventDefault()
    const { kind: pointKind, trackIndex, places, soundIds } = point
    const said = { pointKind, trackIndex, places, soundIds, kind, fromSoundId: from?.id ?? null, reason, by: name }
    answer.mutate(said, { onSuccess: onClose })
  }
  return (
    <ModalDialog className="max-w-xl" onClose={onClose}>
      <form onSubmit={submit}>
        <DialogTitle className="">{answerWords(point, kind)}</DialogTitle>
        <p className="quiet mb-4">{messages.clearance.whatYouSayIsWritten(POINT_WORDS[point.kind], point.sentence)}</p>
        <div className="space-y-4">
          {kind === 'from' && <FromChoice point={point} from={from} onPick={setFrom} />}
          <label className="block">
            <span className="small-label block">
              {kind === 'accepted' ? messages.clearance.whyItIsAccepted : messages.clearance.reasonOptional}
            </span>
            <textarea
              className="textarea w-full"
              rows={2}
              required={kind === 'accepted'}
              minLength={kind === 'accepted' ? 3 : undefined}
              maxLength={1000}
              value={reason}
              onChange={(event) => setReason(event.target.value)}
            />
          </label>
          <label className="block">
            <span className="small-label block">{messages.clearance.yourName}</span>
            <input
              className="input w-full"
              required
              maxLength={120}
              value={name}
              onChange={(event) => setBy(event.target.value)}
            />
          </label>
        </div>
        <DialogProblem error={answer.error} />
        <DialogActions leaveBy="cancel" onLeave={onClose}>
          <button
            type="submit"
            className="btn btn-primary"
            disabled={answer.isPending || (kind === 'from' && from === null)}
          >
            {answer.isPending ? messages.clearance.saving : messages.common.save}
          </button>
        </DialogActions>
      </form>
    </ModalDialog>
  )
}

interface FromChoiceProps {
  readonly point: PointWire
  readonly from: Pick<SoundSummary, 'id' | 'title'> | null
  readonly onPick: (sound: Pick<SoundSummary, 'id' | 'title'>) => void
}

/** A sound of the catalogue, a file that is brought now, or one of the copies of the same recording. */
function FromChoice({ point, from, onPick }: FromChoiceProps) {
  const elsewhere = useTakeIn()
  if (ABOUT_WHICH.includes(point.kind))
    return (
      <fieldset>
        <legend className="small-label mb-1">{messages.clearance.whichOneWasUsed}</legend>
        {point.soundTitles.map(({ soundId, title, sourceName }) => (
          <label key={soundId} className="flex items-center gap-2 py-0.5">
            <input
              type="radio"
              name="which-copy"
              className="radio radio-sm"
              checked={from?.id === soundId}
              onChange={() => onPick({ id: soundId, title })}
            />
            {title} <span className="quiet">({sourceName})</span>
          </label>
        ))}
      </fieldset>
    )
  return (
    <div className="space-y-2">
      <SoundPicker sound={from} onPick={onPick} label={messages.clearance.theSoundThatItIs} />
      <label className="block">
        <span className="small-label block">{messages.clearance.orAFileThatYou}</span>
        <input
          type="file"
          className="file-input w-full"
          accept="audio/*,video/*"
          onChange={({ target }) => {
            const [file] = target.files ?? []
            if (file)
              elsewhere.mutate(
                { file, span: null },
                { onSuccess: ({ soundId }) => onPick({ id: soundId, title: file.name }) },
              )
          }}
        />
      </label>
      {elsewhere.isPending && <p className="quiet text-sm">{messages.clearance.readingTheFile}</p>}
      {elsewhere.error && (
        <p role="alert" className="text-error text-sm">
          {elsewhere.error.message}
        </p>
      )}
      {from && <p className="text-sm">{messages.clearance.chosenItIsLookedFor(from.title)}</p>}
    </div>
  )
}
