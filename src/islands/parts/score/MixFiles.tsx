import { useState } from 'react'
import type { MixOptions, VideoScore, WrittenMix } from '../../../contract'
import { cutLayer } from '../../../core/score'
import { messages } from '../../../messages'
import { useWriteMix } from '../../api/score-queries'
import { dbtpWords, lufsWords } from '../../format/score-words'
import type { PlaceDesk } from '../../score/use-score-desk'
import { Check } from './Check'

/** Loudness that a mix can be brought to, LUFS. */
const LOUDNESS_CHOICES = [-14, -16, -23] as const

/** Writes the mix into files, and lists those that were written. */
export function MixFiles({ placeDesk, loaded }: { placeDesk: PlaceDesk; loaded: VideoScore }) {
  const { video, score, edit, desk } = placeDesk
  const write = useWriteMix(video.id)
  const [options, setOptions] = useState<MixOptions>({ withStems: false, format: 'wav', withVideo: false })
  const choose = (values: Partial<MixOptions>): void => setOptions((before) => ({ ...before, ...values }))
  const { loudnessLufs } = score.delivery
  const isBusy = loaded.mixes.some(({ state }) => state === 'waiting' || state === 'running')
  return (
    <section aria-label={messages.score.writeTheMix}>
      <h2 className="mb-1 text-lg font-semibold">{messages.score.writeTheMix}</h2>
      <div className="flex flex-wrap items-end gap-3 text-sm">
        <label className="block">
          <span className="quiet block">{messages.common.loudness}</span>
          <select
            className="select select-sm"
            value={loudnessLufs ?? ''}
            onChange={({ target }) => {
              const lufs = target.value === '' ? null : Number(target.value)
              edit(
                () => ({ do: 'deliver', delivery: { ...score.delivery, loudnessLufs: lufs } }),
                messages.score.setTheLoudness,
              )
            }}
          >
            <option value="">{messages.score.asItIsMixed}</option>
            {LOUDNESS_CHOICES.map((lufs) => (
              <option key={lufs} value={lufs}>
                {messages.score.lufs(lufs)}
              </option>
            ))}
          </select>
        </label>
        <label className="block">
          <span className="quiet block">{messages.score.format}</span>
          <select
            className="select select-sm"
            value={options.format}
            onChange={({ target }) => choose({ format: target.value as MixOptions['format'] })}
          >
            <option value="wav">{messages.score.wav24Bit}</option>
            <option value="flac">{messages.score.flac24Bit}</option>
          </select>
        </label>
        <Check
          label={messages.score.aStemForEachLayer}
          checked={options.withStems}
          onChange={(withStems) => choose({ withStems })}
        />
        {placeDesk.cut.picture && (
          <Check
            label={messages.score.theVideoWithIt}
            checked={options.withVideo}
            onChange={(withVideo) => choose({ withVideo })}
          />
        )}
        <button
          type="button"
          className="btn btn-primary btn-sm"
          disabled={score.placements.length === 0 || isBusy || write.isPending}
          onClick={() => void desk.store.flush().then(() => write.mutate(options))}
        >
          {isBusy ? messages.score.writing : messages.score.writeTheFiles}
        </button>
      </div>
      {options.withVideo && !cutLayer(score) && (
        <p className="quiet mt-1 text-sm">{messages.score.theVideoWillHaveThe}</p>
      )}
      {write.error && (
        <p role="alert" className="mt-1 text-sm text-error">
          {write.error.message}
        </p>
      )}
      <ul>
        {loaded.mixes.map((mix) => (
          <MixRow key={mix.id} mix={mix} isOld={mix.revision < loaded.revision} />
        ))}
      </ul>
    </section>
  )
}

const STATE_WORDS: Readonly<Record<WrittenMix['state'], string>> = {
  waiting: messages.score.itWaitsForItsTurn,
  running: messages.score.itIsBeingWritten,
  done: '',
  failed: messages.score.itCouldNotBeWritten,
  cancelled: messages.score.itWasStopped,
}

function MixRow({ mix, isOld }: { mix: WrittenMix; isOld: boolean }) {
  return (
    <li className="border-b ruled py-2 text-sm">
      {mix.state === 'done' ? (
        <p>
          {lufsWords(mix.integratedLufs)}, {dbtpWords(mix.truePeakDbtp)}, {mix.lengthS?.toFixed(1)} s
          {isOld && <span className="quiet"> {messages.score.somethingWasChangedSince}</span>}
        </p>
      ) : (
        <p>
          {STATE_WORDS[mix.state]} {mix.message}
        </p>
      )}
      {mix.silent.length > 0 && (
        <p className="text-error">{messages.score.withoutTheAudioIsNot(mix.silent.join(', '))}</p>
      )}
      <p className="flex flex-wrap gap-x-4">
        {mix.files.map(({ name, sizeBytes }, at) => (
          <a key={name} className="link" href={`/api/mixes/${mix.id}/${at + 1}`} download={name}>
            {messages.score.mb(name, (sizeBytes / 1e6).toFixed(1))}
          </a>
        ))}
      </p>
    </li>
  )
}
