import type { Moment } from '../moments'
import type { Layer, PlacedAudio, Placement, Score } from './score'

/** One sound of a score, and where it is placed. */
export interface UsedSound {
  /** The same for all placements of one audio. */
  readonly key: string
  readonly audio: PlacedAudio
  readonly placements: readonly Placement[]
}

/** The same text for the same audio. */
export function audioKey(audio: PlacedAudio): string {
  return audio.kind === 'copy' ? audio.sha256 : `sound-${audio.soundId}`
}

/** Speed at which the audio of a placement is stretched before it is mixed, its pitch kept; null where it is not. */
function stretchRate({ rate, keepsPitch }: Placement): number | null {
  return keepsPitch && rate !== 1 ? rate : null
}

/** The same text for placements that are mixed from the same samples: those of one audio, stretched alike. */
export function mixKey(placement: Placement): string {
  const rate = stretchRate(placement)
  return rate === null ? audioKey(placement.audio) : `${audioKey(placement.audio)}@${rate}`
}

/** Samples that a mix needs. */
export interface MixAudio {
  readonly key: string
  readonly audio: PlacedAudio
  /** Null where they are as they are in the file. */
  readonly stretchRate: number | null
}

/** All samples that a mix of a score needs, each once. */
export function mixAudio({ placements }: Pick<Score, 'placements'>): MixAudio[] {
  const needed = new Map<string, MixAudio>()
  for (const placement of placements) {
    const key = mixKey(placement)
    if (!needed.has(key)) needed.set(key, { key, audio: placement.audio, stretchRate: stretchRate(placement) })
  }
  return [...needed.values()]
}

/** Every audio that is placed, in order of its first place. */
export function usedSounds({ placements }: Pick<Score, 'placements'>): UsedSound[] {
  const used = new Map<string, { key: string; audio: PlacedAudio; placements: Placement[] }>()
  for (const placement of placements) {
    const key = audioKey(placement.audio)
    const known = used.get(key)
    if (known) known.placements.push(placement)
    else used.set(key, { key, audio: placement.audio, placements: [placement] })
  }
  return [...used.values()]
}

/** What is placed for each moment, in the order of the moments, and what is placed for none of them. */
export function placementsByMoment(
  { placements }: Pick<Score, 'placements'>,
  moments: readonly Moment[],
): {
  readonly byMoment: readonly { readonly moment: Moment; readonly placements: readonly Placement[] }[]
  readonly others: readonly Placement[]
} {
  const momentOf = ({ target }: Placement): string | null => (target?.kind === 'moment' ? target.momentId : null)
  const ids = new Set(moments.map(({ id }) => id))
  return {
    byMoment: moments.map((moment) => ({
      moment,
      placements: placements.filter((placement) => momentOf(placement) === moment.id),
    })),
    // A moment that was removed leaves its sounds where they are.
    others: placements.filter((placement) => !ids.has(momentOf(placement) ?? '')),
  }
}

/** Whether a placement is heard: neither it nor its layer is muted, and where layers are solo it lies on one of them. */
export function isHeard(placement: Placement, layers: readonly Layer[]): boolean {
  const layer = layers.find(({ id }) => id === placement.layerId)
  return !placement.isMuted && layer !== undefined && isLayerHeard(layer, layers)
}

/** Whether a layer is heard. */
export function isLayerHeard(layer: Layer, layers: readonly Layer[]): boolean {
  return !layer.isMuted && (layer.isSolo || !layers.some(({ isSolo }) => isSolo))
}
