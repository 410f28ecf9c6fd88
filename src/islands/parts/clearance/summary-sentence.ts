import type { CheckDetail, VideoStateWire } from '../../../contract'
import { stateInWords } from '../../../core/clearance'
import { dayWords } from '../../../core/day-words'
import { namesInWords } from '../../../core/names-in-words'
import { messages } from '../../../messages'

/** What a check comes to, in a sentence: the state of the video, and what it means. */
export function summarySentence(state: VideoStateWire): string {
  const words = stateInWords(state)
  const said = `${words[0]?.toUpperCase()}${words.slice(1)}`
  if (state.kind === 'partly-examined') return messages.clearance.openAndWhatWasNot(said, state.points)
  if (state.kind === 'points-open') return messages.clearance.notReady(words)
  return `${said}.`
}

/** What a check says nothing about. */
export function notExaminedWords(
  check: Pick<CheckDetail, 'notExamined' | 'points' | 'searchedLive' | 'notSynced'>,
): string {
  const grown = check.points.find(({ kind }) => kind === 'list-grew')?.soundIds.length ?? 0
  const tracks = check.points.filter(({ kind }) => kind === 'track').length
  const parts = check.points.reduce(
    (sum, { kind, places }) => sum + (kind === 'undecoded' ? 1 : kind === 'opposed' ? places.length : 0),
    0,
  )
  const excerpts = check.points.find(({ kind }) => kind === 'known-in-part')?.soundIds.length ?? 0
  const live = check.searchedLive
  return [
    ...(tracks > 0 ? [messages.counts.tracks(tracks)] : []),
    ...(parts > 0 ? [messages.clearance.ofTheFile(messages.counts.parts(parts))] : []),
    ...(check.notExamined.length > 0 ? [messages.counts.listedSounds(check.notExamined.length)] : []),
    ...(excerpts > 0 ? [messages.clearance.beyondTheirPreviews(messages.counts.listedSounds(excerpts))] : []),
    ...(grown > 0 ? [messages.clearance.addedSince(messages.counts.sounds(grown))] : []),
    ...(check.points.some(({ kind }) => kind === 'unread-source') ? [messages.clearance.sourcesNotReadYet] : []),
    ...check.notSynced.map(({ name, since }) => messages.clearance.addedAtSince(name, dayWords(since))),
    ...(live.length > 0 ? [messages.clearance.unseenOf(namesInWords(live))] : []),
    messages.clearance.soundsFromElsewhere,
  ].join(', ')
}
