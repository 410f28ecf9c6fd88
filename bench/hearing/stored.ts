import { HEARING_RATE_HZ } from '../../src/core/hearing'
import { expandStored, listenToStored } from '../../src/server/analysis/listen-to-stored'
import type { Pool } from '../../src/server/workers/pool'

/** How many sounds come later. */
const LATER = [1, 10, 100]

/**
 * How long it takes to look for more sounds in a track that a check stored, as sounds of a catalogue and as ones of which there are papers.
 *
 * @param paths Features of sounds, as many as there are. @param among How many sounds the check listened for.
 */
export async function storedReport(
  pool: Pool,
  compact: Uint8Array,
  paths: readonly string[],
  among: number,
): Promise<string[]> {
  const lines: string[] = []
  for (const hasPapers of [false, true])
    for (const count of LATER.filter((one) => one <= paths.length)) {
      const featurePaths = paths.slice(0, count)
      const startMs = performance.now()
      const track = await expandStored(pool, compact)
      const expandS = (performance.now() - startMs) / 1000
      const { detections } = await listenToStored(pool, track, {
        featurePaths,
        shortlist: hasPapers ? featurePaths.map((_, index) => index) : [],
        groups: [],
        before: { shortlist: 0, rest: among },
      })
      const tookS = (performance.now() - startMs) / 1000
      const times = (count * track.shared.frames) / HEARING_RATE_HZ / tookS
      lines.push(
        `  stored           ${count} more sounds${hasPapers ? ' with papers' : ''}: ${tookS.toFixed(2)} s (expanding ${expandS.toFixed(2)}), ${times.toFixed(0)} x real time a sound, ${detections.length} places`,
      )
    }
  return lines
}
