import { heightsOf } from './candidates'
import type { CellTransform } from './cells'
import { CHUNK_FRAMES, HEARING_RATE_HZ } from './constants'
import { blockCount, type Correlator, halved, type PreparedWindow } from './correlate'
import type { PreparedSound } from './prepare'
import { energyOf, unitNorm } from './products'
import type { RawDetection } from './search'
import { SPEED_MAX, SPEED_MIN, spedStretch } from './speed'
import { type Bands, bestFit, type SpedPlace, verifiedAtSpeed } from './speed-fit'
import type { Track } from './track'

/** The stretch of a sound that is looked for at all speeds, frames (0.32 s): a longer one fits fewer speeds at once. */
const ANCHOR_FRAMES = 5120
/** The coarse pass uses the lower quarter of the band, halved twice: there an anchor fits speeds of four times the range. */
const COARSE_HALVINGS = 2
/** Steps between speeds at which the lower quarter of an anchor still answers with nine tenths of its height. */
const COARSE_STEP = 0.0064
/** Neighbouring speeds that are summed into one template. */
const SPEEDS_A_TEMPLATE = 2
/** Height in the coarse pass from which a place is looked at closely. */
const COARSE_MIN = 4.8
/** At most so many places are looked at for each sound and window, best first. */
const CLOSE_LOOKS_MAX = 10
/** Places nearer than this are one, frames. */
const SAME_PLACE_FRAMES = 1600
/** The close look: first in the lower half of the band, then, around what that gives, in all of it. */
const HALF_LOOK = { step: 0.0032, steps: 2, lags: 8, halvings: 1 } as const
const FINE_STEP = 0.0016
const FINE_LOOK = { step: FINE_STEP, steps: 2, lags: 5, halvings: 0 } as const
/** Height in the lower half of the band from which the whole band is tried. */
const HALF_MIN = 5
/** Height of the close look from which a place is verified. */
const FINE_MIN = 6
/** Each doubling of the stretch tells the speed twice as exactly. */
const GROWTHS_MAX = 4
/** Some 300 speeds can be told apart, and the best of them is taken: chance reaches this much higher. Measured. */
const TRIALS_COST = 1.2
/** A speed this near to 1 is the plain search's business. */
const PLAIN_RANGE = 0.004

/** What a search at other speeds is told of a sound. */
export interface SpeedSettings {
  readonly soundIndex: number
  readonly scoreMin: number
  /** Finds of the same sound that need no other explanation. */
  readonly known: readonly RawDetection[]
  readonly whitened: Bands
}

/** Finds sounds that are played faster or slower, their pitch moving along. One instance a thread. */
export class SpedSearcher {
  constructor(
    private readonly correlator: Correlator,
    private readonly cells: CellTransform,
  ) {}

  /** @returns Detections of at least `scoreMin`. */
  search(
    track: Track,
    windows: readonly PreparedWindow[],
    sound: PreparedSound,
    { soundIndex, scoreMin, known, whitened }: SpeedSettings,
  ): RawDetection[] {
    const anchor = anchorOf(sound)
    const templates = coarseTemplates(whitened[0], anchor)
    const found: RawDetection[] = []
    for (const window of windows) {
      for (const place of this.coarsePlaces(window, templates, anchor.frames)) {
        if (isKnown([...known, ...found], place, anchor.centre)) continue
        const find = this.lookedAt(track, window, sound, whitened, anchor, place, soundIndex, scoreMin)
        if (find) found.push(find)
      }
    }
    return found
  }

  private coarsePlaces(window: PreparedWindow, templates: readonly Template[], anchorFrames: number): SpedPlace[] {
    const all = new Uint8Array(blockCount(window.frames)).fill(1)
    const places: SpedPlace[] = []
    for (const { samples, speed } of templates) {
      const summary = this.correlator.summary(window, samples, COARSE_HALVINGS, all)
      const { z } = heightsOf(summary, COARSE_HALVINGS)
      for (let chunk = 0; chunk < z.length; chunk++) {
        const height = z[chunk] as number
        if (height < COARSE_MIN || height < (z[chunk - 1] ?? 0) || height < (z[chunk + 1] ?? 0)) continue
        const start = summary.peakAt?.[chunk] ?? chunk * CHUNK_FRAMES
        places.push({ speed, at: window.start + start + (templateFrames(anchorFrames) >> 1), z: height })
      }
    }
    const apart: SpedPlace[] = []
    for (const place of places.sort((a, b) => b.z - a.z)) {
      if (apart.length === CLOSE_LOOKS_MAX) break
      if (apart.every((other) => Math.abs(other.at - place.at) > SAME_PLACE_FRAMES)) apart.push(place)
    }
    return apart
  }

  private lookedAt(
    track: Track,
    window: PreparedWindow,
    sound: PreparedSound,
    whitened: Bands,
    anchor: Anchor,
    place: SpedPlace,
    soundIndex: number,
    scoreMin: number,
  ): RawDetection | null {
    const { centre: middle } = anchor
    const half = bestFit(window, whitened, middle, anchor.frames, place, HALF_LOOK)
    if (half.z < HALF_MIN) return null
    let best = bestFit(window, whitened, middle, anchor.frames, half, FINE_LOOK)
    if (best.z < FINE_MIN || Math.abs(best.speed - 1) < PLAIN_RANGE) return null
    let frames = anchor.frames
    let step = FINE_STEP / 4
    for (let growth = 0; growth < GROWTHS_MAX && frames < whitened[0].length; growth++) {
      frames *= 2
      const grown = bestFit(window, whitened, middle, frames, best, { step, steps: 3, lags: 6, halvings: 0 })
      step /= 2
      // Where more of it does not stand out more, the sound was trimmed or has ended.
      if (grown.z < best.z) break
      best = grown
    }
    return verifiedAtSpeed(track, this.cells, sound, best, { ...anchor, soundIndex, scoreMin, cost: TRIALS_COST })
  }
}

interface Anchor {
  /** Middle of the stretch, frame of the sound. */
  readonly centre: number
  readonly frames: number
}

interface Template {
  readonly samples: Float32Array
  /** Middle of the speeds that it stands for. */
  readonly speed: number
}

/** The stretch with most energy: it stands out most of whatever it lies under. */
function anchorOf({ samples }: PreparedSound): Anchor {
  const frames = Math.min(ANCHOR_FRAMES, samples.length)
  let energy = 0
  for (let n = 0; n < frames; n++) energy += (samples[n] as number) ** 2
  let most = energy
  let start = 0
  for (let n = frames; n < samples.length; n++) {
    energy += (samples[n] as number) ** 2 - (samples[n - frames] as number) ** 2
    if (energy <= most) continue
    most = energy
    start = n - frames + 1
  }
  return { centre: start + (frames >> 1), frames }
}

/** As long as the anchor is at the slowest speed. */
function templateFrames(anchorFrames: number): number {
  return Math.ceil(anchorFrames / SPEED_MIN)
}

function coarseTemplates(whitened: Float32Array, { centre, frames }: Anchor): Template[] {
  const half = frames >> 1
  const start = Math.max(0, centre - half)
  // Half of the band holds what is in the lower quarter at every speed: there it takes half of the time.
  const cut = halved(whitened.slice(start, centre + half))
  const cutCentre = (centre - start) / 2
  const length = Math.ceil(templateFrames(frames) / 2)
  const templates: Template[] = []
  // A shorter anchor fits more speeds at once.
  const step = COARSE_STEP * (ANCHOR_FRAMES / frames)
  const speedAt = (index: number): number => SPEED_MIN * (1 + step) ** index
  const speeds = Math.ceil(Math.log(SPEED_MAX / SPEED_MIN) / Math.log1p(step))
  for (let first = 0; first < speeds; first += SPEEDS_A_TEMPLATE) {
    const sum = new Float32Array(length)
    for (let k = 0; k < SPEEDS_A_TEMPLATE; k++) {
      const stretch = spedStretch(cut, speedAt(first + k), cutCentre, length)
      const norm = Math.sqrt(energyOf(stretch)) || 1
      for (let n = 0; n < length; n++) sum[n] = (sum[n] as number) + (stretch[n] as number) / norm
    }
    templates.push({
      samples: unitNorm(halved(sum)),
      speed: speedAt(first + (SPEEDS_A_TEMPLATE - 1) / 2),
    })
  }
  return templates
}

/** Whether a find of the sound already explains that its anchor answers there. */
function isKnown(known: readonly RawDetection[], place: SpedPlace, centre: number): boolean {
  return known.some((find) => Math.abs(find.lag + centre / (find.speed ?? 1) - place.at) < 0.03 * HEARING_RATE_HZ)
}
