import type { Placement } from '../../../core/score'
import { messages } from '../../../messages'
import { coverWords, maskingSummary } from '../../score/cover-words'
import type { PlaceActions } from '../../score/use-place-actions'
import type { PlaceDesk } from '../../score/use-score-desk'

interface VoiceCoverProps {
  readonly placeDesk: PlaceDesk
  readonly actions: PlaceActions
  /** Null while something is not saved. */
  readonly savedRevision: number | null
}

/** Which placed sounds cover the voice, and which are covered by it: measured when it is asked for, each a way to its place. */
export function VoiceCover({ placeDesk, actions, savedRevision }: VoiceCoverProps) {
  const { masking, score } = placeDesk
  if (score.placements.length === 0) return null
  const covering = score.placements.flatMap((placement) => {
    const found = masking.byId.get(placement.id)
    const words = found && coverWords(found)
    return words ? [{ placement, words }] : []
  })
  return (
    <section aria-label={messages.score.soundsAndTheVoice} className="mt-3 text-sm">
      <button
        type="button"
        className="btn btn-sm"
        disabled={savedRevision === null || masking.isPending}
        onClick={() => savedRevision !== null && masking.measure(savedRevision)}
      >
        {masking.isPending ? messages.score.comparingWithTheVoice : messages.score.checkAgainstTheVoice}
      </button>
      <span role="status" className="ml-3" data-testid="voice-cover">
        {masking.error && <span className="text-error">{messages.score.tryAgain(masking.error.message)}</span>}
        {masking.isMeasured && !masking.isPending && <span>{maskingSummary(masking, covering.length)}</span>}
      </span>
      {covering.length > 0 && (
        <ul className="mt-1">
          {covering.map(({ placement, words }) => (
            <li key={placement.id} className="border-b ruled py-1">
              <Place placement={placement} placeDesk={placeDesk} actions={actions} /> {words}
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}

function Place({ placement, placeDesk, actions }: { placement: Placement } & Omit<VoiceCoverProps, 'savedRevision'>) {
  const { sounds, timecode } = placeDesk
  const title = placement.audio.soundId === null ? undefined : sounds.get(placement.audio.soundId)?.title
  return (
    <button type="button" className="link" onClick={() => actions.focusOn([placement])}>
      {messages.score.at(title ?? messages.score.aSound, timecode(placement.startS))}
    </button>
  )
}
