import type { MomentKind, MomentWeight, SuggestionKind } from '../../core/moments'
import { messages } from '../../messages'

export const KIND_WORDS: Readonly<Record<MomentKind, string>> = {
  hit: messages.words.hit,
  swell: messages.words.swell,
  spot: messages.words.spotEffect,
  ambience: messages.words.ambience,
  music: messages.common.music,
  silence: messages.words.silenceOnPurpose,
}

export const WEIGHT_WORDS: Readonly<Record<MomentWeight, string>> = {
  must: messages.words.must,
  nice: messages.words.niceToHave,
}

export const SUGGESTION_WORDS: Readonly<Record<SuggestionKind, string>> = {
  'shot-change': messages.words.shotChange,
  flash: messages.words.flash,
  stop: messages.words.movementStops,
  'title-in': messages.words.titleComes,
  'title-out': messages.words.titleGoes,
  word: messages.words.spokenWord,
  habit: messages.words.habit,
  'quiet-span': messages.words.quietSpan,
  'speech-pause': messages.words.pauseInTheSpeech,
}
