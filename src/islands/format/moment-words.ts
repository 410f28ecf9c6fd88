import type { MomentKind, MomentWeight, SuggestionKind } from '../../core/moments'

export const KIND_WORDS: Readonly<Record<MomentKind, string>> = {
  hit: 'Hit',
  swell: 'Swell',
  spot: 'Spot effect',
  ambience: 'Ambience',
  music: 'Music',
  silence: 'Silence on purpose',
}

export const WEIGHT_WORDS: Readonly<Record<MomentWeight, string>> = { must: 'must', nice: 'nice to have' }

export const SUGGESTION_WORDS: Readonly<Record<SuggestionKind, string>> = {
  'shot-change': 'Shot change',
  flash: 'Flash',
  stop: 'Movement stops',
  'title-in': 'Title comes',
  'title-out': 'Title goes',
  word: 'Spoken word',
  habit: 'Habit',
  'quiet-span': 'Quiet span',
  'speech-pause': 'Pause in the speech',
}
