import { messages } from '../../messages'
/** What can be typed into the search line, and what it means. */
export const LINE_WORDS: readonly (readonly [examples: readonly string[], meaning: string])[] = [
  [[messages.query.iceCrack], messages.query.bothWordsAnywhereAWord],
  [[messages.query.iceCrack2], messages.query.inARowAsIt],
  [[messages.query.door], messages.query.withoutThisWord],
  [[messages.query.doorUnder2S, messages.query.windOver1Min], messages.query.aLengthInPlainWords],
  [[messages.query.under2S, messages.query.n2STo5S, messages.query.over1Min], messages.query.length],
  [[messages.query.free, messages.query.inMyPlan, messages.query.freeOrUpTo4], messages.query.cost],
  [[messages.query.licenceCcByOrCc0, messages.query.noCreditOwed], messages.query.licence],
  [
    [messages.query.mayBeUsed, messages.query.withACredit, messages.query.notAllowed],
    messages.query.whatTheTermsAllowIn,
  ],
  [
    [messages.query.fromTinBarnCommons, messages.query.byMarram, messages.query.inSwells],
    messages.query.sourceMakerCategory,
  ],
  [[messages.query.hereAlready, messages.query.kept, messages.query.usedBefore], messages.query.whatIsYours],
  [[messages.query.effectsOrAmbience, messages.query.stereo, messages.query.loops], messages.query.kindOfSound],
  [[messages.query.n90To120Bpm, messages.query.moodCalm, messages.query.withoutVocals], messages.query.music],
  [[messages.query.addedSince20261101], messages.query.date],
  [[messages.query.inTitlesOnly, messages.query.inDescriptionsOnly], messages.query.whereTheWordsHaveTo],
]
