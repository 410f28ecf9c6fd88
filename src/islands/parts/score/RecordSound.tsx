import { Mic, Square } from 'lucide-react'
import { useEffect, useMemo, useState } from 'react'
import { writeWav } from '../../../core/formats/wav'
import { MIX_RATE_HZ } from '../../../core/mix'
import { messages } from '../../../messages'
import { useKeepRecording } from '../../api/papers-queries'
import { dayHere } from '../../format/words'
import type { PlaceActions } from '../../score/use-place-actions'
import { type KeptTake, type RecordingDesk, useRecording } from '../../score/use-recording'
import type { PlaceDesk } from '../../score/use-score-desk'
import { useOfferUndo } from '../../state/undo'

interface RecordSoundProps {
  readonly placeDesk: PlaceDesk
  readonly actions: PlaceActions
}

/** Who recorded, and where: it goes on record with each sound. */
interface Said {
  readonly who: string
  readonly where: string
}

const SAID_KEY = 'recorded-by'

/** Records an effect of one's own while the picture plays; a take that is used is a sound with its papers, at its place. */
export function RecordSound({ placeDesk, actions }: RecordSoundProps) {
  const desk = useRecording(placeDesk.video.id, placeDesk.player)
  const [said, setSaid] = useState<Said>(() => ({ who: localStorage.getItem(SAID_KEY) ?? '', where: '' }))
  const field = (name: keyof Said, label: string) => (
    <label className="block text-sm">
      <span className="quiet block">{label}</span>
      <input
        className="input input-sm w-52"
        maxLength={200}
        value={said[name]}
        onChange={({ target }) => setSaid({ ...said, [name]: target.value })}
      />
    </label>
  )
  return (
    <section aria-label={messages.score.recordASound} className="mt-6">
      <h2 className="text-lg font-semibold">{messages.score.recordASound}</h2>
      <p className="quiet text-sm">{messages.score.theCutPlaysFromThe}</p>
      <div className="mt-1 flex flex-wrap items-end gap-3">
        {field('who', messages.score.recordedBy)}
        {field('where', messages.score.where)}
        <RecordButton desk={desk} />
        <RecordingNow desk={desk} />
      </div>
      {desk.problem && (
        <p role="alert" className="mt-1 text-sm text-error">
          {desk.problem}
        </p>
      )}
      {desk.takes.length > 0 && (
        <ul className="mt-2">
          {desk.takes.map((take) => (
            <TakeRow key={take.id} take={take} said={said} desk={desk} placeDesk={placeDesk} actions={actions} />
          ))}
        </ul>
      )}
    </section>
  )
}

function RecordButton({ desk: { state, start, stop } }: { desk: RecordingDesk }) {
  if (state.is === 'ready')
    return (
      <button type="button" className="btn btn-sm" onClick={start}>
        <Mic className="size-4" aria-hidden="true" /> {messages.score.record}
      </button>
    )
  return (
    <button type="button" className="btn btn-sm" onClick={stop}>
      <Square className="size-4" aria-hidden="true" />{' '}
      {state.is === 'recording' ? messages.common.stop : messages.common.cancel}
    </button>
  )
}

function RecordingNow({ desk: { state } }: { desk: RecordingDesk }) {
  return (
    <>
      <span role="status" className="pb-1.5 text-sm" data-testid="recording">
        {state.is === 'asking' && messages.score.waitingForTheMicrophone}
        {state.is === 'counting' && messages.score.recordingIn(state.left)}
        {state.is === 'recording' && messages.score.recording}
      </span>
      {state.is === 'recording' && (
        <>
          <span className="pb-1.5 text-sm tabular-nums" aria-hidden="true">
            {state.lengthS.toFixed(1)} s
          </span>
          <meter
            className="mb-2 w-28"
            aria-label={messages.score.levelOfTheMicrophone}
            min={0}
            max={1}
            high={0.95}
            value={Math.sqrt(state.peak)}
          />
        </>
      )}
    </>
  )
}

interface TakeRowProps extends RecordSoundProps {
  readonly take: KeptTake
  readonly said: Said
  readonly desk: RecordingDesk
}

function TakeRow({ take, said, desk, placeDesk, actions }: TakeRowProps) {
  const { bounds, number, startS, recordedAt } = take
  const keep = useKeepRecording()
  const offerUndo = useOfferUndo()
  const audioUrl = useObjectUrl(take)
  const name = messages.score.take(number)
  const use = (): void => {
    const day = dayHere(recordedAt)
    const time = recordedAt.toLocaleTimeString('en-GB')
    localStorage.setItem(SAID_KEY, said.who)
    keep.mutate(
      {
        file: new File([wavOf(take)], messages.score.recordedTakeWav(day, time.replaceAll(':', '.'), number), {
          type: 'audio/wav',
        }),
        said: {
          from: said.where,
          who: said.who,
          when: day,
          note: messages.score.recordedWithTheMicrophoneAt(time, placeDesk.video.title, placeDesk.timecode(startS)),
          terms: { kind: 'own' },
        },
      },
      {
        onSuccess: ({ soundId }) => {
          // What was heard before the video begins is left out of it.
          const beforeS = Math.max(0, -(startS + bounds.startS))
          const fromS = bounds.startS + beforeS
          void actions
            .placeRecording(soundId, { startS: startS + fromS, fromS, toS: bounds.endS })
            .then((isPlaced) => isPlaced && desk.remove(take.id))
        },
      },
    )
  }
  return (
    <li className="flex flex-wrap items-center gap-3 border-b ruled py-1.5 text-sm" data-testid="take">
      <span>
        {messages.score.heardFrom(
          name,
          <span className="quiet tabular-nums">{(bounds.endS - bounds.startS).toFixed(2)} s</span>,
          <span className="tabular-nums">{placeDesk.timecode(Math.max(0, startS + bounds.startS))}</span>,
        )}
      </span>
      {/* biome-ignore lint/a11y/useMediaCaption: a recorded effect has no words */}
      <audio className="h-8 w-56" controls src={audioUrl} aria-label={name} />
      <button
        type="button"
        className="btn btn-sm btn-primary"
        disabled={keep.isPending || said.who.trim() === ''}
        onClick={use}
      >
        {keep.isPending ? messages.score.placing : messages.score.useIt}
      </button>
      <button
        type="button"
        className="btn btn-sm"
        onClick={() => {
          desk.remove(take.id)
          offerUndo(messages.score.wasRemoved(name), () => desk.restore(take))
        }}
      >
        {messages.common.remove}
      </button>
      {said.who.trim() === '' && <span className="quiet">{messages.score.sayWhoRecordedItThat}</span>}
      {keep.isError && <span className="text-error">{messages.score.theTakeIsStillHere(keep.error.message)}</span>}
    </li>
  )
}

function wavOf({ channels }: KeptTake): Uint8Array<ArrayBuffer> {
  return writeWav({ sampleRateHz: MIX_RATE_HZ, channels }, { bits: 24 }) as Uint8Array<ArrayBuffer>
}

/** An address under which the browser plays a take. */
function useObjectUrl(take: KeptTake): string {
  const url = useMemo(() => URL.createObjectURL(new Blob([wavOf(take)], { type: 'audio/wav' })), [take])
  useEffect(() => () => URL.revokeObjectURL(url), [url])
  return url
}
