import type { ReactNode } from 'react'

/** Parts that stand on many pages. */
export const shared = {
  goodThudDoesNotAnswer: 'Good Thud does not answer. Is it still running? Start it again and retry.',
  theAnswerCouldNotBe: 'The answer could not be read. Reload the page.',
  theUploadBrokeOffNothing: 'The upload broke off. Nothing was stored. Upload the file again.',
  theUploadWasStopped: 'The upload was stopped.',
  somethingWentWrongTryAgain: 'Something went wrong. Try again.',
  itCouldNotBeFetched: 'It could not be fetched.',
  itCouldNotBeRestored: (message: string) => `It could not be restored: ${message}`,
  severalSounds: 'Several sounds',
  selected: (sounds: string) => `${sounds} selected`,
  keepThem: 'Keep them',
  allAreHere: 'All are here',
  costsNothingMore: 'costs nothing more',
  inAll: (total: string | undefined) => `${total} in all`,
  download: (count: number, which: string) => `Download ${count} · ${which}`,
  saveTheFilesAsOne: 'Save the files as one archive',
  clearSelection: 'Clear selection',
  copied: 'Copied',
  selectItAndCopyBy: 'Select it and copy by hand',
  theCreator: 'the creator',
  onTheWordOf: (value: string, day: string) => `On the word of ${value}, ${day}.`,
  removedInTheLast30: (count: number) => `Removed in the last 30 days (${count})`,
  removedInTheLast30Days: 'Removed in the last 30 days',
  restoreNamed: (nameOf: string) => `Restore ${nameOf}`,
  restoreButton: 'Restore',
  theCutOf: (name: string, videoTitle: string | null) => `the cut ${name} of “${videoTitle}”`,
  of: (name: string, videoTitle: string | null) => `${name} of “${videoTitle}”`,
  theCheckOfOf: (name: string, videoTitle: string | null) => `the check of ${name} of “${videoTitle}”`,
  added: (added: number) => `${added} added`,
  changed: (changed: number) => `${changed} changed`,
  removed: (removed: number) => `${removed} removed`,
  inTheirOrder: 'in their order',
  wereChangedElsewhereMeanwhileWhat: (what: string, value: string) =>
    `${what} were changed elsewhere meanwhile (${value}). What you did here is not saved yet.`,
  merged: (leftOver: string) => `Merged. ${leftOver}`,
  mergedNothingWasLost: 'Merged. Nothing was lost.',
  mergeBoth: 'Merge both',
  useTheOtherVersion: 'Use the other version',
  notSavedYetItIs: (problem: string) => `Not saved yet: ${problem} It is tried again by itself.`,
  theSound: 'The sound',
  partOfItsTitle: 'part of its title',
  noSoundIsCalledThat: 'No sound is called that.',
  somethingWentWrong: 'Something went wrong.',
  whereItWillBePublished: 'Where it will be published',
  itWasHeardInNo: 'It was heard in no checked video yet.',
  at: (link: ReactNode, timesS: ReactNode) => (
    <>
      {link} at {timesS}
    </>
  ),
}
