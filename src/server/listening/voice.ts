import fs from 'node:fs'
import { createRequire } from 'node:module'
import { HEARING_RATE_HZ, type Track } from '../../core/hearing'

/** Streams that are run side by side: the model is small, so a batch costs little more than one. */
const STREAMS = 32
/** The model hears 32 ms at a time at half the hearing rate, after a little of what came before, samples. */
const STEP = 256
const CONTEXT = 32
/** What the model remembers between steps: two layers of 128. */
const STATE_LAYERS = 2
const STATE_SIZE = 128
/** Each stream begins this much early, so that it knows the voice when its own part begins, steps (about 1 s). */
const LEAD = 30

type Runtime = typeof import('onnxruntime-web/wasm')

let loaded: Promise<{ runtime: Runtime; session: Awaited<ReturnType<Runtime['InferenceSession']['create']>> }> | null =
  null

/**
 * Probability of a voice for each 32 ms of a track, by the voice model that ships in a package.
 *
 * @throws Error when the model cannot be loaded.
 */
export async function voiceProbabilities(track: Track): Promise<Float32Array> {
  loaded ??= load()
  const { runtime, session } = await loaded
  const rate = 2
  const steps = Math.ceil(track.frames / (STEP * rate))
  const each = Math.max(1, Math.ceil(steps / STREAMS))
  const out = new Float32Array(steps)
  const width = CONTEXT + STEP
  const input = new Float32Array(STREAMS * width)
  let state = new Float32Array(STATE_LAYERS * STREAMS * STATE_SIZE)
  const rateTensor = new runtime.Tensor('int64', BigInt64Array.from([BigInt(HEARING_RATE_HZ / rate)]), [])
  for (let at = -LEAD; at < each; at++) {
    for (let stream = 0; stream < STREAMS; stream++) {
      const first = (stream * each + at) * STEP - CONTEXT
      input.set(halfRate(track.midSamples(rate * first - 1, rate * (first + width))), stream * width)
    }
    const results = await session.run({
      input: new runtime.Tensor('float32', input, [STREAMS, width]),
      state: new runtime.Tensor('float32', state, [STATE_LAYERS, STREAMS, STATE_SIZE]),
      sr: rateTensor,
    })
    const { stateN, output } = results
    if (!stateN || !output) throw new Error('The voice model answered in an unknown form.')
    state = (stateN.data as Float32Array<ArrayBuffer>).slice()
    const probabilities = output.data as Float32Array
    for (let stream = 0; stream < STREAMS; stream++)
      if (at >= 0 && stream * each + at < steps) out[stream * each + at] = probabilities[stream] as number
  }
  return out
}

/** Every second sample, smoothed over three: voices lie well below what folds back. */
function halfRate(samples: Float32Array): Float32Array {
  const out = new Float32Array((samples.length - 1) / 2)
  for (let n = 0; n < out.length; n++)
    out[n] = 0.25 * (samples[2 * n] as number) + 0.5 * (samples[2 * n + 1] as number) + 0.25 * (samples[2 * n + 2] ?? 0)
  return out
}

async function load() {
  const runtime = await import('onnxruntime-web/wasm')
  runtime.env.wasm.numThreads = 1
  runtime.env.logLevel = 'error'
  const model = createRequire(import.meta.url).resolve('@ricky0123/vad-web/dist/silero_vad_v5.onnx')
  return { runtime, session: await runtime.InferenceSession.create(new Uint8Array(fs.readFileSync(model))) }
}
