import type { CheckDetail, VideoStateWire } from '../../../contract'
import { stateInWords } from '../../../core/clearance'
import { counted } from '../../format/words'

/** What a check comes to, in a sentence: the state of the video, and what it means. */
export function summarySentence(state: VideoStateWire): string {
  const words = stateInWords(state)
  const said = `${words[0]?.toUpperCase()}${words.slice(1)}`
  if (state.kind === 'partly-examined')
    return `${said}: ${counted(state.points, 'point')} ${state.points === 1 ? 'is' : 'are'} open, and what was not examined may hold more.`
  if (state.kind === 'points-open') return `Not ready: ${words}.`
  return `${said}.`
}

/** What a check says nothing about. */
export function notExaminedWords(check: Pick<CheckDetail, 'notExamined' | 'points'>): string {
  const grown = check.points.find(({ kind }) => kind === 'list-grew')?.soundIds.length ?? 0
  const tracks = check.points.filter(({ kind }) => kind === 'track').length
  const parts = check.points.filter(({ kind }) => kind === 'undecoded').length
  return [
    ...(tracks > 0 ? [counted(tracks, 'track')] : []),
    ...(parts > 0 ? [`${counted(parts, 'part')} of the file`] : []),
    ...(check.notExamined.length > 0 ? [counted(check.notExamined.length, 'listed sound')] : []),
    ...(grown > 0 ? [`${counted(grown, 'sound')} added since`] : []),
    'sounds from elsewhere',
  ].join(', ')
}
