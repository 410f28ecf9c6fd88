/** A value as it stands in an entry. */
type Written = unknown

/** What the core says of ledger. */
export const ledger = {
  clear: 'Clear',
  owesCredit: 'Owes credit',
  noPapers: 'No papers',
  notAllowed: 'Not allowed',
  entryThatCannotBeRead: (stringify: string) => `An entry that cannot be read: ${stringify}`,
  servedVersion: (source: Written, title: Written, version: Written) =>
    `${source} served “${title}”, version ${version}.`,
  servedMisfit: (source: Written, title: Written, version: Written) =>
    `${source} served “${title}”, version ${version}, under a label that does not fit its text.`,
  wasReadAgainFromText: (title: Written, count: number) =>
    `“${title}” was read again from its text: ${count} points came out otherwise.`,
  thePlanRunsFromTo: (source: Written, plan: Written, planFrom: Written, planUntil: Written) =>
    `${source}: the plan “${plan}” runs from ${planFrom} to ${planUntil}.`,
  wasAcquiredFromUnder: (title: Written, source: Written, grant: Written) =>
    `“${title}” was acquired from ${source} under “${grant}”.`,
  papersCopyTerms: (grantId: Written, short: string, short2: string) =>
    `Papers ${grantId} · copy ${short} · terms ${short2}`,
  wasPaidForOrder: (source: Written, sum: Written, title: Written, tier: Written, order: Written) =>
    `${source} was paid ${sum} for “${title}”, ${tier}: order ${order}.`,
  wasFiledAsEvidencePapers: (fileName: Written, grantId: Written) =>
    `“${fileName}” was filed as evidence of papers ${grantId}.`,
  papersWereTakenBack: (grantId: Written, grant: Written) => `Papers ${grantId}, “${grant}”, were taken back.`,
  papersAreInForceAgain: (grantId: Written, grant: Written) =>
    `Papers ${grantId}, “${grant}”, were put into force again.`,
  papersUnderTookPlacePapers: (title: Written, grantId: Written, terms: Written, replaces: Written) =>
    `“${title}”: papers ${grantId} under “${terms}” took the place of papers ${replaces}.`,
  conditionOnWasMetFor: (grant: Written, clauseWords: string, video: Written) =>
    `“${grant}”: the condition on “${clauseWords}” was met for “${video}”.`,
  saidThatVoicesInAll: (by: Written) => `${by} said that the voices in all videos are the channel’s own.`,
  voicesInAllVideosAre: 'The voices in all videos are not said to be the channel’s own any more.',
  videosAndChecksThatHad: (count: number, count2: number) =>
    `${count} videos and ${count2} checks that had been removed for a month were cleared away.`,
  papersWereNamedFor: (grantId: Written, grant: Written, video: Written) =>
    `Papers ${grantId}, “${grant}”, were named for “${video}”.`,
  onRecordThatNobodyKnows: (title: Written) => `“${title}”: it is on record that nobody knows where it is from.`,
  wasDeclaredToBeUnder: (title: Written, terms: Written) => `“${title}” was declared to be under “${terms}”.`,
  wasDeclaredBy: (title: Written, terms: Written, from: string) =>
    `“${title}” was declared to be under “${terms}” (${from}).`,
  soundsListenedForPlacesHeard: (soundsListenedFor: Written, placesHeard: Written) =>
    `${soundsListenedFor} sounds listened for, ${placesHeard} places heard`,
  check: (checkId: Written, heard: string) => `Check ${checkId}: ${heard}.`,
  wasCheckedOnCameFor: (video: Written, heard: string, asOf: Written, state: Written, uses: Written) =>
    `“${video}” was checked: ${heard}. On ${asOf} it came to “${state}” for ${uses}.`,
  onPapersTerms: (papersId: Written, short: string) => ` on papers ${papersId}, terms ${short}`,
  onTheWordOf: (onTheWordOf: Written) => `, on the word of ${onTheWordOf}`,
}
