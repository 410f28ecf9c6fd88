import { type Placement, placementLengthS } from '../score'
import { fadesGain, PlacementGains } from './gains'
import { type PcmSource, stereoShares } from './pcm'
import { CHUNK_FRAMES } from './room'
import { runsOf, type SourceRun, seamGain } from './runs'
import { SincReader } from './sinc'
import { PlacementTreatments, tailS } from './treatments'

/** A time is taken for a whole frame when it is this close, frames: rounding of times. */
const WHOLE_WITHIN = 1e-6
/** After a jump what came before is worked through for so long first, s: longer than any filter remembers. */
const PRE_ROLL_S = 0.25

/** One placement as it sounds, before its layer. Keeps state, so that it is for one thread; any block size gives the same. */
export class Voice {
  /** First frame of the mix in which it may be heard, and how many there are with what its treatments add. */
  readonly startFrame: number
  readonly lengthFrames: number
  private readonly heardFrames: number
  private readonly heardS: number
  private readonly runs: readonly SourceRun[]
  private readonly sourceS: number
  private readonly reader: SincReader
  private readonly gains: PlacementGains
  private readonly isTreated: boolean
  private treatments: PlacementTreatments
  private readonly left = new Float32Array(CHUNK_FRAMES)
  private readonly right = new Float32Array(CHUNK_FRAMES)
  private readonly scratch = new Float32Array(CHUNK_FRAMES)
  private chunk = -1

  constructor(
    readonly placement: Placement,
    private readonly source: PcmSource,
    private readonly sampleRateHz: number,
  ) {
    this.heardS = placementLengthS(placement)
    this.sourceS = this.heardS * placement.rate
    this.startFrame = Math.round(placement.startS * sampleRateHz)
    this.heardFrames = frameCeiling(this.heardS * sampleRateHz)
    this.lengthFrames = this.heardFrames + Math.ceil(tailS(placement) * sampleRateHz)
    this.runs = runsOf(placement)
    this.reader = new SincReader(source)
    this.gains = new PlacementGains(placement, source.channelCount === 1, sampleRateHz)
    this.isTreated = placement.treatments.length > 0 || placement.treatmentChange !== null
    this.treatments = new PlacementTreatments(placement, sampleRateHz)
  }

  /** Whether it would be the same if it were made anew. */
  isOf(placement: Placement, source: PcmSource): boolean {
    return (
      source === this.source &&
      (placement === this.placement || JSON.stringify(placement) === JSON.stringify(this.placement))
    )
  }

  /** Adds what is heard of it. @param fromFrame Frame of the mix that both arrays begin with. */
  addTo(left: Float32Array, right: Float32Array, fromFrame: number): void {
    let at = Math.max(0, fromFrame - this.startFrame)
    const end = Math.min(this.lengthFrames, fromFrame + left.length - this.startFrame)
    while (at < end) {
      const chunk = Math.floor(at / CHUNK_FRAMES)
      this.prepare(chunk)
      const within = at - chunk * CHUNK_FRAMES
      const count = Math.min(CHUNK_FRAMES - within, end - at)
      const to = at + this.startFrame - fromFrame
      for (let n = 0; n < count; n++) {
        left[to + n] = (left[to + n] as number) + (this.left[within + n] as number)
        right[to + n] = (right[to + n] as number) + (this.right[within + n] as number)
      }
      at += count
    }
  }

  /** Makes a chunk the one that is at hand. Where what came before is needed, it is worked through first. */
  private prepare(chunk: number): void {
    if (chunk === this.chunk) return
    if (this.isTreated && chunk !== this.chunk + 1) {
      this.treatments = new PlacementTreatments(this.placement, this.sampleRateHz)
      const before = Math.ceil(((tailS(this.placement) + PRE_ROLL_S) * this.sampleRateHz) / CHUNK_FRAMES)
      for (let at = Math.max(0, chunk - before); at < chunk; at++) this.work(at)
    }
    this.work(chunk)
    this.chunk = chunk
  }

  private work(chunk: number): void {
    const from = chunk * CHUNK_FRAMES
    this.readSource(from)
    if (this.isTreated) this.treatments.process(this.left, this.right, from)
    this.gains.apply(this.left, this.right, from)
  }

  private readSource(from: number): void {
    const { left, right } = this
    left.fill(0)
    right.fill(0)
    for (const run of this.runs) this.addRun(run, from)
    const { fadeIn, fadeOut } = this.placement
    const end = Math.min(CHUNK_FRAMES, this.heardFrames - from)
    const isFading =
      (fadeIn && from < fadeIn.lengthS * this.sampleRateHz) ||
      (fadeOut && from + end > (this.heardS - fadeOut.lengthS) * this.sampleRateHz)
    for (let n = 0; isFading && n < end; n++) {
      const gain = fadesGain(this.placement, this.heardS, (from + n) / this.sampleRateHz)
      left[n] = (left[n] as number) * gain
      right[n] = (right[n] as number) * gain
    }
  }

  private addRun(run: SourceRun, from: number): void {
    const { rate, isReversed } = this.placement
    const framesPerS = this.sampleRateHz / rate
    const [startS, endS] = isReversed
      ? [this.sourceS - run.atS - (run.toS - run.fromS), this.sourceS - run.atS]
      : [run.atS, run.atS + run.toS - run.fromS]
    const first = Math.max(from, frameCeiling(startS * framesPerS))
    const end = Math.min(from + CHUNK_FRAMES, frameCeiling(endS * framesPerS), this.heardFrames)
    if (end <= first) return
    // A frame of a sound that is turned round is the one that ends where it would begin.
    const offsetS = (frame: number): number =>
      isReversed ? this.sourceS - (frame + 1) / framesPerS - run.atS : frame / framesPerS - run.atS
    const { sampleRateHz: sourceHz } = this.source
    const step = ((isReversed ? -1 : 1) * sourceHz) / framesPerS
    const position = (run.fromS + offsetS(first)) * sourceHz
    const read = this.scratch.subarray(0, end - first)
    for (const [channel, [toLeft, toRight]] of stereoShares(this.source.channelCount).entries()) {
      if (toLeft === 0 && toRight === 0) continue
      this.reader.read(channel, { position, step }, read)
      if (run.seamInS + run.seamOutS > 0)
        for (let n = 0; n < read.length; n++) read[n] = (read[n] as number) * seamGain(run, offsetS(first + n))
      if (toLeft !== 0) addScaled(this.left, read, first - from, toLeft)
      if (toRight !== 0) addScaled(this.right, read, first - from, toRight)
    }
  }
}

function addScaled(to: Float32Array, what: Float32Array, at: number, gain: number): void {
  for (let n = 0; n < what.length; n++) to[at + n] = (to[at + n] as number) + gain * (what[n] as number)
}

function frameCeiling(frames: number): number {
  return Math.ceil(frames - WHOLE_WITHIN)
}
