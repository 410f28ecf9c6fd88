import { type Detection, scoreThreshold } from '../../core/hearing'
import { type Pool, runTask } from '../workers/pool'
import type { Sensitivity, SensitivityTask } from '../workers/tasks'
import { inBatches, type SearchOptions, taskOptions } from './listening'
import { countsOf, type ReferenceSet, type SearchedTrack, searchedSound } from './stages'

const SENSITIVITIES_PER_TASK = 250

/** From which level the sounds that were not heard would have been. */
export async function measureSensitivities(
  pool: Pool,
  track: SearchedTrack,
  reference: ReferenceSet,
  detections: readonly Detection[],
  options: SearchOptions,
): Promise<Sensitivity[]> {
  const heard = new Set(detections.flatMap(({ soundIndex, alternatives }) => [soundIndex, ...alternatives]))
  const short = new Set(reference.shortlist)
  const counts = countsOf(reference)
  const parts = [true, false].flatMap((ofShortlist) => {
    const indices = reference.featurePaths.map((_, index) => index).filter((index) => short.has(index) === ofShortlist)
    const soundCount = ofShortlist ? counts.shortlist : counts.rest
    const threshold = scoreThreshold({ soundCount, durationS: track.durationS })
    const silent = indices.filter((index) => !heard.has(index)).map((index) => searchedSound(reference, index))
    return inBatches(silent, SENSITIVITIES_PER_TASK).map(
      (sounds): SensitivityTask => ({ track: track.shared, threshold, sounds }),
    )
  })
  const results = await Promise.all(
    parts.map((task) => runTask<Sensitivity[]>(pool, 'measureSensitivity', task, taskOptions(options))),
  )
  return results.flat().sort((a, b) => a.index - b.index)
}
