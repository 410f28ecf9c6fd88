/** The picture is led back to the sound from this much apart on, s. */
const DRIFT_S = 0.008
/** Up to a frame apart the picture is played so much faster or slower at most: less than is seen. Further apart it is seen anyway. */
const MAX_CORRECTION = 0.04
const FAR_CORRECTION = 0.15
const FAR_S = 1 / 24
/** With more than this the mix begins anew where the picture is. */
const LOST_S = 0.3
/** So often the sound is moved to the picture after it has begun: only then can nobody hear it. */
const SETTLING_STEPS = 3

/** What is done about picture and sound being apart. */
export type Lead =
  | { readonly kind: 'begin-anew' }
  /** The sound jumps by so much, s. */
  | { readonly kind: 'move-sound'; readonly byS: number }
  | { readonly kind: 'play-picture'; readonly rate: number }

/** Brings sound and picture together: the sound goes to the picture in its first moments, and from then on the picture follows the sound. */
export class PictureLead {
  private steps = 0

  /** The sound has just begun. */
  begin(): void {
    this.steps = SETTLING_STEPS
  }

  /** @param driftS How far the picture is ahead of the sound. */
  next(driftS: number): Lead {
    if (Math.abs(driftS) > LOST_S) return { kind: 'begin-anew' }
    if (this.steps > 0) {
      this.steps--
      if (Math.abs(driftS) >= DRIFT_S) return { kind: 'move-sound', byS: driftS }
      this.steps = 0
    }
    return { kind: 'play-picture', rate: rateFor(driftS) }
  }
}

/** Whether a rate is one that the picture is only led by. */
export function isLeadingRate(rate: number): boolean {
  return Math.abs(rate - 1) <= FAR_CORRECTION + 1e-9
}

function rateFor(driftS: number): number {
  if (Math.abs(driftS) < DRIFT_S) return 1
  const most = Math.abs(driftS) > FAR_S ? FAR_CORRECTION : MAX_CORRECTION
  return 1 + Math.max(-most, Math.min(most, -driftS / 2))
}
