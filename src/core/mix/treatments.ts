import type { Placement, Treatment, TreatmentKind } from '../score'
import { BiquadChain, type BiquadCoefficients, biquad } from './biquad'
import { gainOfDb } from './gains'
import { CHUNK_FRAMES, Convolver, type RoomShape, roomSpectra } from './room'

/** What a treatment is made of, for an amount. */
interface Recipe {
  readonly sections: readonly BiquadCoefficients[]
  readonly gain: number
  readonly room: { readonly shape: RoomShape; readonly wet: number; readonly dry: number } | null
}

/** From where a pass band has no edge that is heard, Hz. */
const NO_LOW_PASS_HZ = 20_000
const NO_HIGH_PASS_HZ = 15
/** Butterworth, two sections. */
const STEEP_Q = [0.5412, 1.3066] as const
const GENTLE_Q = Math.SQRT1_2

const HALL: RoomShape = { decayS: 1.8, delayS: 0.018, brightHz: 6000 }
const OPEN_AIR: RoomShape = { decayS: 0.5, delayS: 0.03, brightHz: 2500 }

function recipe(kind: TreatmentKind, amount: number, sampleRateHz: number): Recipe {
  const edge = (from: number, to: number): number => from * (to / from) ** amount
  const pass = (side: 'low-pass' | 'high-pass', toHz: number, qs: readonly number[]): BiquadCoefficients[] => {
    const frequencyHz = edge(side === 'low-pass' ? NO_LOW_PASS_HZ : NO_HIGH_PASS_HZ, toHz)
    return qs.map((q) => biquad(side, { frequencyHz, q, sampleRateHz }))
  }
  const peak = (frequencyHz: number, gainDb: number): BiquadCoefficients =>
    biquad('peak', { frequencyHz, q: 1, gainDb: gainDb * amount, sampleRateHz })
  switch (kind) {
    case 'wall':
      return { sections: pass('low-pass', 250, STEEP_Q), gain: gainOfDb(-4 * amount), room: null }
    case 'small-speaker':
      return {
        sections: [...pass('high-pass', 350, [GENTLE_Q]), ...pass('low-pass', 5500, [GENTLE_Q]), peak(1800, 6)],
        gain: gainOfDb(-3 * amount),
        room: null,
      }
    case 'telephone':
      return {
        sections: [...pass('high-pass', 300, STEEP_Q), ...pass('low-pass', 3400, STEEP_Q), peak(1200, 4)],
        gain: gainOfDb(-2 * amount),
        room: null,
      }
    case 'far-off':
      return {
        sections: [...pass('high-pass', 180, [GENTLE_Q]), ...pass('low-pass', 2200, [GENTLE_Q])],
        gain: gainOfDb(-12 * amount),
        room: { shape: OPEN_AIR, wet: 0.5 * amount, dry: 1 - 0.3 * amount },
      }
    case 'large-room':
      return { sections: [], gain: 1, room: { shape: HALL, wet: 0.7 * amount, dry: 1 - 0.35 * amount } }
  }
}

/** How long a treatment is heard after the sound has ended, s. */
function tailOfS({ kind, amountFraction }: Treatment): number {
  if (amountFraction === 0) return 0
  const room = kind === 'large-room' ? HALL : kind === 'far-off' ? OPEN_AIR : null
  return room ? room.delayS + room.decayS : 0
}

/** How long the treatments of a placement are heard after it has ended, s. */
export function tailS({ treatments, treatmentChange }: Pick<Placement, 'treatments' | 'treatmentChange'>): number {
  const chain = (all: readonly Treatment[]): number => all.reduce((sum, one) => sum + tailOfS(one), 0)
  return Math.max(chain(treatments), treatmentChange ? chain(treatmentChange.to) : 0)
}

class TreatmentStage {
  private readonly filters: readonly [BiquadChain, BiquadChain]
  private readonly rooms: readonly [Convolver, Convolver] | null
  private readonly wet = new Float32Array(CHUNK_FRAMES)

  constructor(
    private readonly made: Recipe,
    sampleRateHz: number,
  ) {
    this.filters = [new BiquadChain(made.sections), new BiquadChain(made.sections)]
    const side = (at: 0 | 1) => new Convolver(roomSpectra((made.room as { shape: RoomShape }).shape, at, sampleRateHz))
    this.rooms = made.room ? [side(0), side(1)] : null
  }

  process(samples: Float32Array, side: 0 | 1): void {
    const { gain, room } = this.made
    this.filters[side].process(samples)
    const [wet, dry] = room ? [room.wet * gain, room.dry * gain] : [0, gain]
    if (this.rooms) this.rooms[side].process(samples, this.wet)
    for (let n = 0; n < samples.length; n++) samples[n] = dry * (samples[n] as number) + wet * (this.wet[n] as number)
  }
}

/** Treatments one after the other, with their state; worked through in chunks of {@link CHUNK_FRAMES}, in order. */
export class TreatmentChain {
  private readonly stages: readonly TreatmentStage[]

  constructor(treatments: readonly Treatment[], sampleRateHz: number) {
    this.stages = treatments
      .filter(({ amountFraction }) => amountFraction > 0)
      .map(({ kind, amountFraction }) => new TreatmentStage(recipe(kind, amountFraction, sampleRateHz), sampleRateHz))
  }

  /** Treats one chunk in place. */
  process(left: Float32Array, right: Float32Array): void {
    for (const stage of this.stages) {
      stage.process(left, 0)
      stage.process(right, 1)
    }
  }
}

/** The treatments of a placement and, where they change, those they change to. */
export class PlacementTreatments {
  private readonly chain: TreatmentChain
  private readonly other: TreatmentChain | null

  constructor(
    private readonly placement: Pick<Placement, 'treatments' | 'treatmentChange'>,
    private readonly sampleRateHz: number,
  ) {
    const { treatments, treatmentChange } = placement
    this.chain = new TreatmentChain(treatments, sampleRateHz)
    this.other = treatmentChange ? new TreatmentChain(treatmentChange.to, sampleRateHz) : null
  }

  /** Treats one chunk in place. @param fromFrame Of the placement. */
  process(left: Float32Array, right: Float32Array, fromFrame: number): void {
    const { treatmentChange } = this.placement
    if (!this.other || !treatmentChange) {
      this.chain.process(left, right)
      return
    }
    const [otherLeft, otherRight] = [left.slice(), right.slice()]
    this.chain.process(left, right)
    this.other.process(otherLeft, otherRight)
    for (let n = 0; n < left.length; n++) {
      const share = changeFraction(treatmentChange, (fromFrame + n) / this.sampleRateHz)
      left[n] = (1 - share) * (left[n] as number) + share * (otherLeft[n] as number)
      right[n] = (1 - share) * (right[n] as number) + share * (otherRight[n] as number)
    }
  }
}

/** How far a change has come. Both are the same sound, so straight lines keep its level. */
function changeFraction({ fromS, toS }: { readonly fromS: number; readonly toS: number }, atS: number): number {
  if (atS >= toS) return 1
  return atS <= fromS ? 0 : (atS - fromS) / (toS - fromS)
}
