import type { CellTransform } from '../cells'
import { clickCost } from '../click'
import { HEARING_RATE_HZ } from '../constants'
import { halvedTimes, type PreparedWindow, whitenedStretch } from '../correlate'
import { excerptAround } from '../excerpt'
import type { BlockKernel } from '../kernel/block-kernel'
import type { PreparedSound } from '../prepare'
import { energyOf, unitNorm } from '../products'
import type { RawDetection } from '../search'
import { spedStretch } from '../speed'
import { type Bands, bestFit, type SpedPlace, verifiedAtSpeed, whitenedBands } from '../speed-fit'
import type { Track } from '../track'
import type { Proposal } from './lookup'

/** Stretches that a proposal is heard by, frames of the sound (0.12 s): the most energetic ones within the patch. */
const STRETCH_FRAMES = 1920
const STRETCHES = 2
/** A second stretch needs this part of the energy of the first. */
const STRETCH_ENERGY_MIN = 0.25
/** Half of a patch, s: what lies within it was likened. */
const HALF_PATCH_S = 0.35
/** First in the lower quarter of the band: speeds around the proposed one, and how far the place may be off (60 ms), in its frames. */
const QUARTER = { halvings: 2, step: 0.01, steps: 4, lags: 240 } as const
const RATE = 1 << QUARTER.halvings
const QUARTER_MIN = 5.4
/** Then in all of the band, by stretches that double: each tells the speed twice as exactly. Frames of the sound. */
const FIRST_LOOK = { frames: 2560, step: 0.002, steps: 3, lags: 6 } as const
const LONGER_LOOKS = [
  { frames: 5120, step: 0.0012, steps: 2, lags: 5 },
  { frames: 10240, step: 0.0004, steps: 3, lags: 5 },
  { frames: 20480, step: 0.0002, steps: 3, lags: 5 },
  { frames: 40960, step: 0.0001, steps: 3, lags: 5 },
] as const
type Look = typeof FIRST_LOOK | (typeof LONGER_LOOKS)[number]
const FIRST_LOOK_MIN = 6
/** The second one, twice as long, stands out more where the sound is there. */
const SECOND_LOOK_MIN = 7.5
/** A longer stretch that stands out less than this much of the shorter one has parts that are not there. */
const GROWTH_MIN = 0.9
/** A speed this near to 1 is the plain search's business. */
const PLAIN_RANGE = 0.004
/** All sounds at all speeds are proposed, and the best of them are taken: chance reaches this much higher. Measured. */
const TRIALS_COST = 4.5
/** Of a long sound so much to both sides of a place is whitened, frames (4 s): more than the longest look and the window of whitening. */
const NEAR_FRAMES = 4 * HEARING_RATE_HZ
/** Halving needs this much around a stretch, frames. */
const MARGIN = 64

/** Hears what was looked up: a matched filter at the proposed places and speeds. One instance a thread. */
export class ProposalConfirmer {
  constructor(
    private readonly kernel: BlockKernel,
    private readonly cells: CellTransform,
  ) {}

  /**
   * @param window That holds the proposed places. @param proposals For one sound.
   * @param known Finds of the sound that need no other explanation. @param scoreMin Lower finds are left out.
   */
  confirm(
    track: Track,
    window: PreparedWindow,
    sound: PreparedSound,
    proposals: readonly Proposal[],
    { known, scoreMin }: { readonly known: readonly RawDetection[]; readonly scoreMin: number },
  ): RawDetection[] {
    let bands: Bands | null = null
    const found: RawDetection[] = []
    for (const proposal of [...proposals].sort((a, b) => b.z - a.z)) {
      if ([...known, ...found].some((find) => explains(find, proposal))) continue
      const answer = this.bestAnswer(window, sound, proposal)
      if (!answer) continue
      // Few come this far: only for them the sound is whitened, a long one around the place.
      const { sound: near, start } = excerptAround(sound, { from: answer.centre, to: answer.centre }, NEAR_FRAMES)
      bands = bands && near === sound ? bands : whitenedBands(near.samples)
      const about = { soundIndex: proposal.soundIndex, scoreMin }
      const find = this.lookedAt(track, window, sound, { bands, start }, answer, about)
      if (find) found.push(find)
    }
    return found
  }

  /** The stretch, speed and place that stand out most in the lower quarter of the band; null where none does. */
  private bestAnswer(window: PreparedWindow, sound: PreparedSound, proposal: Proposal): Answer | null {
    const { step, steps, lags } = QUARTER
    const places = 2 * lags
    let best: Answer = { centre: 0, speed: 1, at: 0, z: QUARTER_MIN }
    for (const { centre, samples } of stretchesOf(sound, proposal)) {
      const speeds = Array.from({ length: 2 * steps + 1 }, (_, k) => proposal.speed * (1 + (k - steps) * step))
      const [slowest, fastest] = [speeds[0] as number, speeds[2 * steps] as number]
      const lengthAt = (speed: number): number => 4 * Math.ceil(samples.length / speed / 4)
      const middleAt = (speed: number): number => Math.round(proposal.at + (centre - proposal.centre) / speed)
      const before = RATE * ((lengthAt(slowest) >> 1) + lags)
      const from = RATE * Math.floor((Math.min(middleAt(slowest), middleAt(fastest)) - before) / RATE)
      const to = from + 2 * before + Math.abs(middleAt(slowest) - middleAt(fastest)) + RATE * 8
      const around = halvedTimes(whitenedStretch(window, from - MARGIN, to + MARGIN), QUARTER.halvings).subarray(
        MARGIN / RATE,
      )
      const square = energyOf(around) / around.length
      if (!(square > 0)) continue
      for (const speed of speeds) {
        const frames = lengthAt(speed)
        const first = Math.round((middleAt(speed) - from) / RATE) - (frames >> 1) - lags
        this.kernel.loadTemplate(unitNorm(spedStretch(samples, speed, samples.length / 2, frames)))
        const answers = this.kernel.answers(around.subarray(first, first + frames + places - 1), places)
        for (let lag = 0; lag < places; lag++) {
          const z = (answers[lag] as number) / Math.sqrt(square)
          if (z > best.z) best = { centre, speed, at: from + RATE * (first + lag + (frames >> 1)), z }
        }
      }
    }
    return best.z > QUARTER_MIN ? best : null
  }

  private lookedAt(
    track: Track,
    window: PreparedWindow,
    sound: PreparedSound,
    whitened: { readonly bands: Bands; readonly start: number },
    answer: Answer,
    { soundIndex, scoreMin }: { readonly soundIndex: number; readonly scoreMin: number },
  ): RawDetection | null {
    const { centre } = answer
    const fitted = (look: Look, guess: SpedPlace): SpedPlace =>
      bestFit(window, whitened.bands, centre - whitened.start, look.frames, guess, { ...look, halvings: 0 })
    let best = fitted(FIRST_LOOK, answer)
    if (best.z < FIRST_LOOK_MIN) return null
    for (const look of LONGER_LOOKS) {
      if (look.frames > 2 * sound.samples.length) break
      const grown = fitted(look, best)
      if (grown.z < GROWTH_MIN * best.z) break
      // What stood out in less is not lessened by what is quiet beside it.
      best = { ...grown, z: Math.max(grown.z, best.z) }
      if (best.z < SECOND_LOOK_MIN) return null
    }
    const cost = TRIALS_COST + clickCost(sound)
    if (best.z - cost < scoreMin || Math.abs(best.speed - 1) < PLAIN_RANGE) return null
    const heard = { centre, frames: FIRST_LOOK.frames, soundIndex, scoreMin, cost }
    return verifiedAtSpeed(track, this.cells, sound, best, heard)
  }
}

interface Answer extends SpedPlace {
  /** Middle of the stretch that answered, frame of the sound. */
  readonly centre: number
}

interface Stretch {
  /** Frame of the sound in its middle. */
  readonly centre: number
  /** Whitened, in the lower quarter of the band. */
  readonly samples: Float32Array
}

/** The stretches with most energy within the patch, apart from each other, of the pieces that are kept of the sound. */
function stretchesOf({ samples, pieces }: PreparedSound, { centre, speed }: Proposal): Stretch[] {
  const reach = HALF_PATCH_S * HEARING_RATE_HZ * speed
  const all = pieces.flatMap((piece) => {
    const from = Math.max(piece.start, Math.round(centre - reach))
    const end = Math.min(piece.start + piece.samples.length, Math.round(centre + reach))
    const last = end - STRETCH_FRAMES
    // A shorter one is taken as it is.
    const starts = last < from && end - from >= 0.8 * STRETCH_FRAMES ? [from] : []
    for (let start = from; start <= last; start += STRETCH_FRAMES / 8) starts.push(start)
    return starts.map((start) => {
      const frames = Math.min(STRETCH_FRAMES, end - start)
      return { piece, start, frames, energy: energyOf(samples.subarray(start, start + frames)) }
    })
  })
  const chosen: (typeof all)[number][] = []
  for (const one of all.sort((a, b) => b.energy - a.energy)) {
    if (chosen.length === STRETCHES || one.energy < STRETCH_ENERGY_MIN * (chosen[0] ?? one).energy) break
    if (chosen.every((other) => Math.abs(other.start - one.start) >= STRETCH_FRAMES)) chosen.push(one)
  }
  return chosen.map(({ piece, start, frames }) => {
    const at = start - piece.start
    return {
      centre: start + frames / 2,
      samples: halvedTimes(piece.samples.slice(at, at + frames), QUARTER.halvings),
    }
  })
}

/** Whether a find of the sound already lies where a proposal would put it. */
function explains(find: RawDetection, { at, centre }: Proposal): boolean {
  return Math.abs(find.lag + centre / (find.speed ?? 1) - at) < 0.1 * HEARING_RATE_HZ
}
