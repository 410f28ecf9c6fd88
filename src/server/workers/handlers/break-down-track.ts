import { subtracted, type Track, type TrackBreakdown, trackBreakdown } from '../../../core/hearing'
import type { BreakdownTask, SharedTrack, SubtractTask, TaskResult } from '../tasks'
import { soundsOf } from './features-files'
import { trackFrom } from './shared-memory'
import { asTaskResult } from './task-result'

/** Takes the sounds that were heard out of a track; the rest lies in shared memory of its own. */
export function subtractFound(task: SubtractTask): Promise<TaskResult<SharedTrack>> {
  return asTaskResult(async () => {
    const rest = restOf(task)
    const mid = new SharedArrayBuffer(2 * rest.frames)
    new Int16Array(mid).set(rest.mid)
    return { mid, side: null, frames: rest.frames }
  })
}

/** What a track is made of. */
export function breakDownTrack(task: BreakdownTask): Promise<TaskResult<TrackBreakdown>> {
  return asTaskResult(async () => trackBreakdown(restOf(task), task.speech, task.detections, trackFrom(task.track)))
}

function restOf({ track, detections, paths }: SubtractTask): Track {
  return subtracted(trackFrom(track), detections, soundsOf(paths))
}
