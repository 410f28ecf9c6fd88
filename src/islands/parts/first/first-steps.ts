import type { Job, ShellState, Video } from '../../../contract'
import { isUnderWay } from '../../api/job-list'

export const FIRST_STEPS = ['licensee', 'library', 'film', 'result'] as const
export type FirstStep = (typeof FIRST_STEPS)[number]

/** How far the first steps are. */
export interface FirstStepsState {
  readonly done: ReadonlySet<FirstStep>
  /** What is to be done now; null when all is. */
  readonly current: FirstStep | null
  /** The video whose file was brought last. */
  readonly video: Video | null
}

/** Whether the file could not be checked, so that another one is wanted. */
export function hasFailed({ check }: Pick<Video, 'check'>): boolean {
  return check?.state === 'failed' || check?.state === 'cancelled'
}

/** Whether there is anything to find. */
export function hasSounds({ soundCount, liveSources }: Pick<ShellState, 'soundCount' | 'liveSources'>): boolean {
  return soundCount > 0 || liveSources > 0
}

/** @param jobs Those that are under way: a library that is being read is not connected yet. */
export function firstStepsOf(
  shell: Pick<ShellState, 'licensee' | 'soundCount' | 'liveSources'>,
  videos: readonly Video[],
  jobs: readonly Job[],
): FirstStepsState {
  const checked = videos.filter(({ check }) => check !== null)
  const video = checked.reduce<Video | null>((last, one) => (last && last.id > one.id ? last : one), null)
  const isReading = jobs.some((job) => job.kind === 'mirror' && isUnderWay(job))
  const done = new Set<FirstStep>()
  if (shell.licensee !== '') done.add('licensee')
  if (hasSounds(shell) && !isReading) done.add('library')
  if (video && !hasFailed(video)) done.add('film')
  if (videos.some(({ check }) => check?.state === 'done')) done.add('result')
  return { done, current: FIRST_STEPS.find((step) => !done.has(step)) ?? null, video }
}
