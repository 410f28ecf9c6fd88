import fs from 'node:fs'
import { createRequire } from 'node:module'
import { BREAKDOWN_HOP, HEARING_RATE_HZ, Track } from '../../core/hearing'
import { concatFloat32 } from './concat-float32'
import { loadedWithoutTiering } from './late-tiering'
import { type TrackMemory, waitForFrames } from './track-memory'

/** Streams that are run side by side: the model is small, so a batch costs little more than one. */
const STREAMS = 16
/** The model hears 96 ms at a time at half the hearing rate, samples; each stands for so many steps of the breakdown. */
const STEP = 768
const RATE = 2
const BREAKDOWN_STEPS = (STEP * RATE) / BREAKDOWN_HOP
/** So much of the track is heard at once, steps (two minutes): as soon as it is decoded. */
const STRETCH = 1250
/** What the model remembers between steps: two layers of 64, twice. */
const STATE_LAYERS = 2
const STATE_SIZE = 64
/** Each stream begins this much early, so that it knows the voice when its own part begins, steps (about 1 s). */
const LEAD = 10

/** Memory is given back after a step: an arena would keep what the largest one took. */
const SESSION = { enableCpuMemArena: false, executionMode: 'sequential' } as const

type Runtime = typeof import('onnxruntime-web/wasm')

interface Model {
  readonly runtime: Runtime
  readonly session: Awaited<ReturnType<Runtime['InferenceSession']['create']>>
}

let loaded: Promise<Model> | null = null

/**
 * Probability of a voice for each 32 ms of a track, by the voice model that ships in a package.
 *
 * @param memory Of a track that may still be being decoded: this thread waits for it.
 * @throws Error when the model cannot be loaded.
 */
export async function computeVoiceProbabilities(memory: TrackMemory): Promise<Float32Array> {
  loaded ??= load()
  const model = await loaded
  const parts: Float32Array[] = []
  for (let first = 0; ; first += STRETCH) {
    const { frames, all } = waitForFrames(memory, (first + STRETCH) * STEP * RATE)
    const steps = Math.min(STRETCH, Math.ceil(frames / (STEP * RATE)) - first)
    if (steps > 0)
      parts.push(await scoreStretch(model, new Track(new Int16Array(memory.mid), null, frames), first, steps))
    if (all && frames <= (first + STRETCH) * STEP * RATE) return concatFloat32(parts)
  }
}

/** The same for a stretch of it, cut into streams. */
async function scoreStretch(
  { runtime, session }: Model,
  track: Track,
  firstStep: number,
  steps: number,
): Promise<Float32Array> {
  const each = Math.max(1, Math.ceil(steps / STREAMS))
  const out = new Float32Array(steps * BREAKDOWN_STEPS)
  const input = new Float32Array(STREAMS * STEP)
  const samples = new Float32Array(RATE * STEP + 1)
  const stateShape = [STATE_LAYERS, STREAMS, STATE_SIZE]
  let h = new runtime.Tensor('float32', new Float32Array(STATE_LAYERS * STREAMS * STATE_SIZE), stateShape)
  let c = new runtime.Tensor('float32', new Float32Array(STATE_LAYERS * STREAMS * STATE_SIZE), stateShape)
  const sr = new runtime.Tensor('int64', BigInt64Array.from([BigInt(HEARING_RATE_HZ / RATE)]), [])
  for (let at = -LEAD; at < each; at++) {
    for (let stream = 0; stream < STREAMS; stream++) {
      const first = RATE * STEP * (firstStep + stream * each + at)
      track.midInto(samples, first - 1)
      halfRate(samples, input.subarray(stream * STEP, (stream + 1) * STEP))
    }
    const results = await session.run({ input: new runtime.Tensor('float32', input, [STREAMS, STEP]), h, c, sr })
    const { output, hn, cn } = results
    if (!output || !hn || !cn) throw new Error('The voice model answered in an unknown form.')
    h = hn as typeof h
    c = cn as typeof c
    const probabilities = output.data as Float32Array
    for (let stream = 0; stream < STREAMS; stream++) {
      const step = stream * each + at
      if (at >= 0 && step < steps)
        out.fill(probabilities[stream] as number, step * BREAKDOWN_STEPS, (step + 1) * BREAKDOWN_STEPS)
    }
  }
  return out
}

/** Every second sample, smoothed over three: voices lie well below what folds back. */
function halfRate(samples: Float32Array, into: Float32Array): void {
  for (let n = 0; n < into.length; n++)
    into[n] =
      0.25 * (samples[2 * n] as number) + 0.5 * (samples[2 * n + 1] as number) + 0.25 * (samples[2 * n + 2] ?? 0)
}

async function load(): Promise<Model> {
  const runtime = await import('onnxruntime-web/wasm')
  runtime.env.wasm.numThreads = 1
  runtime.env.logLevel = 'error'
  const model = createRequire(import.meta.url).resolve('@ricky0123/vad-web/dist/silero_vad_legacy.onnx')
  const bytes = new Uint8Array(fs.readFileSync(model))
  return { runtime, session: await loadedWithoutTiering(() => runtime.InferenceSession.create(bytes, SESSION)) }
}
