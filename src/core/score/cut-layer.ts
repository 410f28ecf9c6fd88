import { type Layer, newPlacement, type PlacedAudio, type Placement, type Score } from './score'
import { isLayerHeard } from './usage'

/** The layer that the cut's own sound lies on; null while it is not part of what is placed. */
export function cutLayer({ layers }: Pick<Score, 'layers'>): Layer | null {
  return layers.find(({ role }) => role === 'cut') ?? null
}

/** Id of the cut's own sound among what is mixed. It is no placement of the document: it is where the cut is. */
const CUT_SOUND_ID = 'the-cut'

/**
 * A score with the cut's own sound on the layer that is meant for it, for mixing.
 *
 * @param cut Hash of the cut's file and how long its sound is, s; null where it has none. @returns The score as it is where there is no such layer.
 */
export function withCutSound(
  score: Score,
  cut: { readonly sha256: string; readonly durationS: number } | null,
): { readonly score: Score; readonly audio: PlacedAudio | null } {
  const layer = cutLayer(score)
  if (!layer || !cut || !(cut.durationS > 0)) return { score, audio: null }
  const audio: PlacedAudio = { kind: 'copy', sha256: cut.sha256, soundId: null }
  const sound: Placement = newPlacement(CUT_SOUND_ID, { layerId: layer.id, audio, startS: 0, toS: cut.durationS })
  return { score: { ...score, placements: [sound, ...score.placements] }, audio }
}

/** How loud the cut's own sound plays beside what is placed, 0 to 1: as its layer says, and as it is in its file while there is none. */
export function cutGain(score: Pick<Score, 'layers'>): number {
  const layer = cutLayer(score)
  if (!layer) return 1
  return isLayerHeard(layer, score.layers) ? Math.min(1, 10 ** (layer.levelDb / 20)) : 0
}
