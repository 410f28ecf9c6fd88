import { useState } from 'react'
import type { MixOptions, VideoScore, WrittenMix } from '../../../contract'
import { cutLayer } from '../../../core/score'
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
    <section aria-label="Write the mix">
      <h2 className="mb-1 text-lg font-semibold">Write the mix</h2>
      <div className="flex flex-wrap items-end gap-3 text-sm">
        <label className="block">
          <span className="quiet block">Loudness</span>
          <select
            className="select select-sm"
            value={loudnessLufs ?? ''}
            onChange={({ target }) => {
              const lufs = target.value === '' ? null : Number(target.value)
              edit(() => ({ do: 'deliver', delivery: { ...score.delivery, loudnessLufs: lufs } }), 'Set the loudness')
            }}
          >
            <option value="">as it is mixed</option>
            {LOUDNESS_CHOICES.map((lufs) => (
              <option key={lufs} value={lufs}>
                {lufs} LUFS
              </option>
            ))}
          </select>
        </label>
        <label className="block">
          <span className="quiet block">Format</span>
          <select
            className="select select-sm"
            value={options.format}
            onChange={({ target }) => choose({ format: target.value as MixOptions['format'] })}
          >
            <option value="wav">WAV, 24 bit</option>
            <option value="flac">FLAC, 24 bit</option>
          </select>
        </label>
        <Check
          label="A stem for each layer, too"
          checked={options.withStems}
          onChange={(withStems) => choose({ withStems })}
        />
        {placeDesk.cut.picture && (
          <Check
            label="The video with it"
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
          {isBusy ? 'Writing …' : 'Write the files'}
        </button>
      </div>
      {options.withVideo && !cutLayer(score) && (
        <p className="quiet mt-1 text-sm">
          The video will have the placed sounds alone. Add the layer “Sound of the cut” to keep what it came with.
        </p>
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
  waiting: 'It waits for its turn.',
  running: 'It is being written.',
  done: '',
  failed: 'It could not be written.',
  cancelled: 'It was stopped.',
}

function MixRow({ mix, isOld }: { mix: WrittenMix; isOld: boolean }) {
  return (
    <li className="border-b ruled py-2 text-sm">
      {mix.state === 'done' ? (
        <p>
          {lufsWords(mix.integratedLufs)}, {dbtpWords(mix.truePeakDbtp)}, {mix.lengthS?.toFixed(1)} s
          {isOld && <span className="quiet"> · something was changed since</span>}
        </p>
      ) : (
        <p>
          {STATE_WORDS[mix.state]} {mix.message}
        </p>
      )}
      {mix.silent.length > 0 && <p className="text-error">Without {mix.silent.join(', ')}: the audio is not here.</p>}
      <p className="flex flex-wrap gap-x-4">
        {mix.files.map(({ name, sizeBytes }, at) => (
          <a key={name} className="link" href={`/api/mixes/${mix.id}/${at + 1}`} download={name}>
            {name} ({(sizeBytes / 1e6).toFixed(1)} MB)
          </a>
        ))}
      </p>
    </li>
  )
}
