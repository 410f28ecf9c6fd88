import type { CellTransform } from './cells'
import { type Correlator, halved, type PreparedWindow } from './correlate'
import type { PreparedSound } from './prepare'
import type { RawDetection } from './search'
import type { Bands } from './speed-fit'
import { PitchPreservedSearcher } from './time-stretched'
import type { Track } from './track'
import { SpedSearcher } from './varispeed'
import { whitenedSound } from './whiten'

/**
 * Looks for sounds that are played at another speed, with their pitch moving along or kept. Costs about ten times as much as the
 * plain search, so it is for the sounds that are likely there.
 */
export class TreatedSearcher {
  private readonly sped: SpedSearcher
  private readonly pitchPreserved: PitchPreservedSearcher

  constructor(correlator: Correlator, cells: CellTransform) {
    this.sped = new SpedSearcher(correlator, cells)
    this.pitchPreserved = new PitchPreservedSearcher(correlator)
  }

  /**
   * @param plain Finds of the plain search in the same windows: what they explain is not looked at again.
   * @param scoreMin Lower finds are left out.
   */
  search(
    track: Track,
    windows: readonly PreparedWindow[],
    sounds: readonly (PreparedSound | null)[],
    { plain, scoreMin }: { readonly plain: readonly RawDetection[]; readonly scoreMin: number },
  ): RawDetection[] {
    return sounds.flatMap((sound, soundIndex) => {
      if (!sound) return []
      const known = plain.filter((find) => find.soundIndex === soundIndex)
      const whole = whitenedSound(sound.samples)
      const whitened: Bands = [whole, halved(whole)]
      const settings = { soundIndex, scoreMin, known, whitened }
      return [
        ...this.sped.search(track, windows, sound, settings),
        ...this.pitchPreserved.search(track, windows, sound, settings),
      ]
    })
  }
}
