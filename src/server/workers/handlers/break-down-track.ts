import { subtracted, type Track, type TrackBreakdown, trackBreakdown } from '../../../core/hearing'
import type { BreakdownTask, SharedTrack, SubtractTask, TaskResult } from '../tasks'
import { soundsOf } from './features-files'
import { trackFrom } from './shared-memory'
import { asTaskResult } from './task-result'

/** Takes the sounds that were heard out of a track. */
export function subtractFound(task: SubtractTask): Promise<TaskResult<SharedTrack>> {
  return asTaskResult(async () => {
    const { frames } = restOf(task)
    return { mid: task.rest, side: null, frames }
  })
}

/** What a track is made of. */
export function breakDownTrack(task: BreakdownTask): Promise<TaskResult<TrackBreakdown>> {
  return asTaskResult(async () => trackBreakdown(restOf(task), task.speech, task.detections, trackFrom(task.track)))
}

function restOf({ track, detections, paths, rest }: SubtractTask): Track {
  return subtracted(trackFrom(track), detections, soundsOf(paths), new Int16Array(rest, 0, track.frames))
}
