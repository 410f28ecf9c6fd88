import { plural } from '../plural'

/** What the server says of desk. */
export const desk = {
  from: (title: string, sourceName: string, orderStateWords: string) =>
    `“${title}” from ${sourceName}: ${orderStateWords}`,
  werePaid: (paid: string) => `${paid} were paid. `,
  takenUpAgainByItself: 'It is taken up again by itself.',
  damagedOrMissing: (count: number) =>
    plural(count, { one: '# thing is damaged or missing', other: '# things are damaged or missing' }),
  sourcesTellsRestAndRepairs: (sentence: string) =>
    `${sentence} Sources tells the rest, and repairs what can be repaired.`,
  diskNearlyFullMbAre: (freeBytes: number) => `The disk is nearly full: ${freeBytes} MB are free`,
  downloadsChecksAndPurchasesStop:
    'Downloads, checks and purchases stop when there is no room. Sources shows what takes it, and clears what nothing uses.',
  isNotReady: (title: string) => `“${title}” is not ready`,
  owesCredits: (title: string) => `“${title}” owes credits`,
  moreIsHeardIn: (title: string) => `More is heard in “${title}”`,
  soundThatCameIsHeard: (count: number) =>
    plural(count, {
      one: 'A sound that came to your sources after the check is heard in it, in # place.',
      other: 'A sound that came to your sources after the check is heard in it, in # places.',
    }),
  planEnds: (plan: string, name: string, until: string) => `${plan} at ${name} ends on ${until}`,
  planEnded: (plan: string, name: string, until: string) => `${plan} at ${name} ended on ${until}`,
  nothingNewCanBeCleared: 'Nothing new can be cleared under it.',
  videosThatUseSoundsHave: 'Videos that use its sounds have to be first published by then, or the plan renewed.',
  publishedOnItStaysCleared: (publishOn: string) => `Published on ${publishOn}: it stays cleared.`,
  notClearedFor: (publishOn: string) => `Not cleared for ${publishOn}.`,
  notClearedWithoutDate: 'Not cleared: no publish date is set.',
  changed: (name: string, title: string) => `${name} changed “${title}”`,
  versionWasFirstSeenOn: (version: string, dayOf: string) =>
    `Version ${version} was first seen on ${dayOf}. Papers on file keep the version that they were taken under.`,
  keepsVersion: (version: string) => `Keeps version ${version}`,
  newOneWouldAllowToo: (keeps: string) => `${keeps}; the new one would allow it too.`,
  soundDownloadedNowWouldNot: (keeps: string, sentence: string) =>
    `${keeps}. A sound downloaded now would not be allowed in it: ${sentence}`,
  isReadMoreCarefullyNow: (title: string) => `“${title}” is read more carefully now`,
  doesNotSayWhatWas: (points: string) => `It does not say what it was taken to say on: ${points}.`,
  lookAtItsPointsAgain: 'Look at its points again.',
  noLongerOffers: (sourceName: string, title: string) => `${sourceName} no longer offers “${title}”`,
  yourCopyAndPapersStay: 'Your copy and its papers stay as they are. It cannot be downloaded again.',
  couldNotBeSynchronised: (name: string) => `${name} could not be synchronised`,
  licenceLabelThatDoesNot: (sourceName: string) => `${sourceName}: a licence label that does not fit its text`,
  whatServedSaysMoreOr: (title: string) =>
    `${title}: what is served says more or less than that licence, so nothing is taken to be allowed by it.`,
  inSpeaksOfRights: (path: string, sourceName: string) => `“${path}” in ${sourceName} speaks of rights`,
  mayBePapers: (count: number) =>
    plural(count, {
      one: 'It may be the papers of # sound. Read it and decide.',
      other: 'It may be the papers of # sounds. Read it and decide.',
    }),
}
