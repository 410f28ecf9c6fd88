/** What the server says of requests. */
export const requests = {
  makingABackup: 'Making a backup',
  thereAreNoTimesIn: 'There are no times in it.',
  thereAreNoPicturesIn: 'There are no pictures in it.',
  examiningTheFiles: 'Examining the files',
  thisJob: 'This job',
  verifyingTheLedger: 'Verifying the ledger',
  packEmptyDownloadAgainAnd: 'The pack is empty. Download it again and bring that file.',
  clearingWhatNothingUses: 'Clearing what nothing uses',
  synchronising: (name: string) => `Synchronising ${name}`,
  captionFileHasAtMost: 'A caption file has at most 5 MB.',
  fileEmptyExportCutAgain: 'The file is empty. Export the cut again and bring that file.',
  fileEmptyExportVideoAgain: 'The file is empty. Export the video again and bring that file.',
}
