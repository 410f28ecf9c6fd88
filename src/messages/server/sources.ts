/** What the server says of sources. */
export const sources = {
  notAsExpected: (path: string) => `in its answer, “${path}” is not as expected`,
  pointedAddressThatNotOn: (libraryName: string) =>
    `${libraryName} pointed to an address that is not on the web; it was not followed.`,
  cannotBeReachedThereNo: (libraryName: string, host: string) =>
    `${libraryName} cannot be reached: there is no address for ${host}.`,
  sentOnlyPartFileAnd: (libraryName: string) =>
    `${libraryName} sent only a part of the file, and cannot go on with it. Download it again.`,
  sentFileThatNotOne: (libraryName: string) =>
    `${libraryName} sent a file that is not the one it told of. Download it again.`,
  sentOnlyPartFileDownload: (libraryName: string) => `${libraryName} sent only a part of the file. Download it again.`,
  answerNestedMoreThanDeep: (maxJsonDepth: number) => `its answer is nested more than ${maxJsonDepth} deep`,
  itsAnswerIsNotJson: 'its answer is not JSON',
  sentWhereSoundWasExpected: (mime: string) => `it sent “${mime}” where a sound was expected`,
  announcedFileGbMoreThan: (libraryName: string, expected: string) =>
    `${libraryName} announced a file of ${expected} GB; more than 2 GB are not fetched.`,
  didNotAnswerWithinS: (idleMs: number) => `did not answer within ${idleMs} s`,
  cannotBeReached: 'cannot be reached',
  tryAgainInWhileNothing: (libraryName: string, why: string) =>
    `${libraryName} ${why}. Try again in a while; nothing here was changed.`,
  sentUsOnAnotherAddress: (libraryName: string) => `${libraryName} sent us on to another address; it was not followed.`,
  saysThatPlanHasEnded: (libraryName: string) =>
    `${libraryName} says that the plan has ended. Renew it there, then sync.`,
  noLongerOffersThis: (libraryName: string) => `${libraryName} no longer offers this.`,
  asksWaitBeforeNextRequest: (libraryName: string) =>
    `${libraryName} asks to wait before the next request. Try again later.`,
  sentFarTooLongAnswer: (libraryName: string) => `${libraryName} sent far too long an answer.`,
  tookTooLongOverAnswer: (libraryName: string) => `${libraryName} took too long over an answer. Try again in a while.`,
  brokeOffInMiddleAnswer: (libraryName: string) => `${libraryName} broke off in the middle of an answer. Try again.`,
  nowAsksForWereAgreed: (libraryName: string, inWords: string, inWords2: string) =>
    `${libraryName} now asks ${inWords} for it; ${inWords2} were agreed. Nothing was bought. Sync the library, look at the price and decide again.`,
  chargedForOrderWereAgreed: (libraryName: string, inWords: string, order: string, inWords2: string) =>
    `${libraryName} charged ${inWords} for order ${order}; ${inWords2} were agreed. Write to them and name the order; it is not placed again.`,
  takingOverSoundsNewOr: (fresh: number) => `Taking over: ${fresh} sounds new or changed`,
  newlyListenedTo: (inWords: string, listened: number) => `${inWords}; ${listened} newly listened to`,
  soundsInCatalogueNewChanged: (total: number, fresh: number, changed: number, gone: number) =>
    `${total} sounds in the catalogue: ${fresh} new, ${changed} changed, ${gone} gone`,
  catalogueChangedWhileWasRead: (name: string) => `The catalogue of ${name} changed while it was read. Sync again.`,
  namesMoreThanTermsNothing: (name: string, maxTerms: number) =>
    `${name} names more than ${maxTerms} terms. Nothing here was changed.`,
  listsMoreThanSoundsNothing: (name: string, maxSounds: number) =>
    `${name} lists more than ${maxSounds} sounds. Nothing here was changed.`,
  readingTheCatalogueSounds: (count: number) => `Reading the catalogue: ${count} sounds`,
  listsOnlySoundsWhereThere: (name: string, count: number, present: number) =>
    `${name} lists only ${count} sounds where there were ${present}; nothing here was changed. If that is right, sync once more.`,
}
