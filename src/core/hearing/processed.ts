import type { CellTransform } from './cells'
import type { Correlator, PreparedWindow } from './correlate'
import { type Proposal, ProposalConfirmer } from './lookup'
import { isLong, type PreparedSound } from './prepare'
import type { RawDetection } from './search'
import { whitenedBands } from './speed-fit'
import { PitchPreservedSearcher } from './time-stretched'
import type { Track } from './track'
import { SpedSearcher } from './varispeed'

/** A plain find of less than this part of a sound may be a grain of it, played faster or slower with its pitch kept. */
const PARTLY_MAX = 0.6

/**
 * Hears sounds of a catalogue at other speeds where something says that they are there: places that were looked up, and, where the pitch is kept, plain finds of
 * parts or a loudest stretch that stands out. One instance a thread.
 */
export class LookedUpSearcher {
  private readonly confirmer: ProposalConfirmer
  private readonly pitchPreserved: PitchPreservedSearcher

  constructor(correlator: Correlator, cells: CellTransform) {
    this.confirmer = new ProposalConfirmer(correlator.kernel, cells)
    this.pitchPreserved = new PitchPreservedSearcher(correlator)
  }

  /**
   * @param proposals Places in the window that were looked up for the sound. @param plain Finds of the plain search for the sound in the window.
   * @param threshold Plain finds from this score on explain what is there. @param scoreMin Lower finds are left out.
   */
  search(
    track: Track,
    window: PreparedWindow,
    sound: PreparedSound,
    {
      soundIndex,
      proposals,
      plain,
      threshold,
      scoreMin,
    }: {
      readonly soundIndex: number
      readonly proposals: readonly Proposal[]
      readonly plain: readonly RawDetection[]
      readonly threshold: number
      readonly scoreMin: number
    },
  ): RawDetection[] {
    const known = plain.filter(({ score }) => score >= threshold)
    const found = this.confirmer.confirm(track, window, sound, proposals, { known, scoreMin })
    // Of a long sound a part is the usual thing, and all of it would have to be cut into grains.
    if (isLong(sound.samples)) return found
    const isPartly = plain.some(({ from, to }) => to - from < PARTLY_MAX * sound.samples.length)
    if (!isPartly && !this.pitchPreserved.isAnswered(window, sound)) return found
    const settings = { soundIndex, scoreMin, known: found, whitened: whitenedBands(sound.samples) }
    return [...found, ...this.pitchPreserved.search(track, [window], sound, settings)]
  }
}

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
      const settings = { soundIndex, scoreMin, known, whitened: whitenedBands(sound.samples) }
      return [
        ...this.sped.search(track, windows, sound, settings),
        ...this.pitchPreserved.search(track, windows, sound, settings),
      ]
    })
  }
}
