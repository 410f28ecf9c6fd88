import type { TaskResult, VoiceTask } from '../tasks'
import { computeVoiceProbabilities } from '../voice'
import { asTaskResult } from './task-result'

/** Where in a track someone speaks. */
export function hearVoices({ memory }: VoiceTask): Promise<TaskResult<Float32Array>> {
  return asTaskResult(() => computeVoiceProbabilities(memory))
}
