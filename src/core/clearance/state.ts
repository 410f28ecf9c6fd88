import { clearance as messages } from '../wording/clearance'
import type { LicenceConflict } from './conflicts'
import type { Finding } from './finding'
import { ABOUT_WHICH } from './point-kinds'
import type { Point } from './points'

/** The state of a video: the one value that every place shows. */
export type VideoState =
  | { readonly kind: 'not-checked' }
  | { readonly kind: 'checking' }
  /** A part was not examined; `points` counts everything that is open. */
  | { readonly kind: 'partly-examined'; readonly points: number; readonly credits: number }
  | { readonly kind: 'points-open'; readonly points: number; readonly credits: number }
  | { readonly kind: 'ready'; readonly credits: number; readonly accepted: readonly AcceptedBy[] }

/** Points that someone accepted though nothing explains them; they stay visible in the state. */
export interface AcceptedBy {
  readonly by: string
  readonly points: number
}

/** Kinds from the least to the most that is known to be in order. */
export const STATE_KINDS = ['not-checked', 'checking', 'partly-examined', 'points-open', 'ready'] as const

/** Whether a heard sound keeps the video from being ready. */
export function isBarred({ verdict }: Pick<Finding, 'verdict'>): boolean {
  return verdict === 'no-papers' || verdict === 'not-allowed'
}

/** The state that findings, points, and licences that cannot be kept together come to. */
export function stateOf(
  findings: readonly Finding[],
  points: readonly Point[],
  conflicts: readonly LicenceConflict[],
): VideoState {
  const barred = findings.filter(isBarred)
  const barredIds = new Set(barred.map(({ soundId }) => soundId))
  // A sound that is barred anyway is not counted once more for the doubt whether it is that sound.
  const open = points.filter(
    ({ isOpen, kind, soundIds }) =>
      isOpen && !(ABOUT_WHICH.includes(kind) && soundIds[0] !== undefined && barredIds.has(soundIds[0])),
  )
  // A conflict of sounds that are barred anyway is told with them.
  const unmet = conflicts.filter(({ soundIds }) => !soundIds.some((id) => barredIds.has(id)))
  const credits = findings.filter(({ verdict }) => verdict === 'owes-credit').length
  const counts = { points: barred.length + open.length + unmet.length, credits }
  if (open.some(({ isUnexamined }) => isUnexamined)) return { kind: 'partly-examined', ...counts }
  if (counts.points > 0) return { kind: 'points-open', ...counts }
  const accepted = new Map<string, number>()
  for (const { answer } of points)
    if (answer?.kind === 'accepted') accepted.set(answer.by, (accepted.get(answer.by) ?? 0) + 1)
  return { kind: 'ready', credits, accepted: [...accepted].map(([by, count]) => ({ by, points: count })) }
}

/** "3 points open", "ready, 2 credits owed, with 1 point accepted by Ann". */
export function stateInWords(state: VideoState): string {
  if (state.kind === 'not-checked') return messages.notChecked
  if (state.kind === 'checking') return 'checking'
  if (state.kind === 'partly-examined') return messages.partlyExamined
  if (state.kind === 'points-open') return `${counted(state.points, 'point')} open`
  const owed = state.credits > 0 ? `, ${counted(state.credits, 'credit')} owed` : ''
  const accepted = state.accepted.map(({ by, points }) => messages.acceptedBy(counted(points, 'point'), by))
  return `ready${owed}${accepted.length > 0 ? messages.withText(accepted.join(' and ')) : ''}`
}

function counted(count: number, one: string): string {
  return `${count} ${count === 1 ? one : `${one}s`}`
}
