import { type Fade, type FadeCurve, lineValue, type Placement } from '../score'

export function gainOfDb(db: number): number {
  return 10 ** (db / 20)
}

/** How far a fade has come. @param fraction Of its length, 0 to 1. */
export function fadeGain(curve: FadeCurve, fraction: number): number {
  if (fraction <= 0) return 0
  if (fraction >= 1) return 1
  switch (curve) {
    case 'straight':
      return fraction
    case 'equal-power':
      return Math.sin((Math.PI / 2) * fraction)
    case 's':
      return Math.sin((Math.PI / 2) * fraction) ** 2
  }
}

/** Gain of the fades of a placement at a time from its start, s. */
export function fadesGain(
  { fadeIn, fadeOut }: Pick<Placement, 'fadeIn' | 'fadeOut'>,
  lengthS: number,
  atS: number,
): number {
  return oneFade(fadeIn, atS) * oneFade(fadeOut, lengthS - atS)
}

function oneFade(fade: Fade | null, insideS: number): number {
  return fade && fade.lengthS > 0 ? fadeGain(fade.curve, insideS / fade.lengthS) : 1
}

/**
 * Gains of the left and right side for a pan, by equal power.
 *
 * @param pan -1 to 1; beyond that as at the side. @param isMono One channel is 3 dB down on each side in the middle; two keep their level there.
 */
export function panGains(pan: number, isMono: boolean): readonly [number, number] {
  const angle = ((Math.min(1, Math.max(-1, pan)) + 1) * Math.PI) / 4
  const [left, right] = [Math.cos(angle), Math.sin(angle)]
  return isMono ? [left, right] : [Math.min(1, Math.SQRT2 * left), Math.min(1, Math.SQRT2 * right)]
}

/** Gain of the left and the right side of a placement at each frame: level and pan with their break points. */
export class PlacementGains {
  private readonly level: number
  private readonly steady: readonly [number, number] | null
  private readonly isSteadyGain: boolean

  constructor(
    private readonly placement: Placement,
    private readonly isMono: boolean,
    private readonly sampleRateHz: number,
  ) {
    this.level = gainOfDb(placement.gainDb)
    this.steady = placement.panPoints.length === 0 ? panGains(placement.pan, isMono) : null
    this.isSteadyGain = placement.gainPoints.length === 0
  }

  /** Multiplies frames of a placement. @param fromFrame Of the placement. Both arrays are changed. */
  apply(left: Float32Array, right: Float32Array, fromFrame: number): void {
    if (this.steady && this.isSteadyGain) {
      scale(left, this.level * this.steady[0])
      scale(right, this.level * this.steady[1])
      return
    }
    for (let n = 0; n < left.length; n++) {
      const [toLeft, toRight] = this.at((fromFrame + n) / this.sampleRateHz)
      left[n] = (left[n] as number) * toLeft
      right[n] = (right[n] as number) * toRight
    }
  }

  /** @param atS From the start of the placement, s. */
  at(atS: number): readonly [number, number] {
    const { gainPoints, gainDb, pan, panPoints } = this.placement
    const gain = this.isSteadyGain ? this.level : gainOfDb(gainDb + lineValue(gainPoints, atS))
    const [left, right] = this.steady ?? panGains(pan + lineValue(panPoints, atS), this.isMono)
    return [gain * left, gain * right]
  }
}

function scale(samples: Float32Array, gain: number): void {
  for (let n = 0; n < samples.length; n++) samples[n] = (samples[n] as number) * gain
}
