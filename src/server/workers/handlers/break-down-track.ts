import {
  type Opposition,
  oppositionWithout,
  subtracted,
  type Track,
  type TrackBreakdown,
  takeOutOfSide,
  trackBreakdown,
} from '../../../core/hearing'
import type { BreakdownTask, SharedTrack, SubtractTask, TakeOutTask, TaskResult } from '../tasks'
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

/** Takes out of the side of a track what was heard there. What is left of it is where left and right still oppose each other. */
export function takeOutOpposed({ track, detections, paths }: TakeOutTask): Promise<TaskResult<Opposition>> {
  return asTaskResult(async () => {
    const whole = trackFrom(track)
    return oppositionWithout(whole, () => takeOutOfSide(whole, detections, soundsOf(paths)))
  })
}

/** What a track is made of. */
export function breakDownTrack(task: BreakdownTask): Promise<TaskResult<TrackBreakdown>> {
  return asTaskResult(async () => trackBreakdown(restOf(task), task.speech, task.detections, trackFrom(task.track)))
}

function restOf({ track, detections, paths, rest }: SubtractTask): Track {
  return subtracted(trackFrom(track), detections, soundsOf(paths), new Int16Array(rest, 0, track.frames))
}
