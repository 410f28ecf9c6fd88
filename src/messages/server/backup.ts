/** What the server says of backup. */
export const backup = {
  liesInDataFolderItself: (folder: string) =>
    `${folder} lies in the data folder itself: it would be lost with it. Name another folder.`,
  savingFileOf: (index: number, count: number) => `Saving file ${index} of ${count}`,
  noSavedStateGoodThud: (snapshot: string) => `${snapshot} is no saved state of Good Thud, or it is not whole.`,
  sayFirstIntoWhichFolder: 'Say first into which folder backups go.',
  filesAreSavedMbWere: (fileCount: number, newBytes: number) =>
    `${fileCount} files are saved; ${newBytes} MB were new.`,
  writeWholePathFolderFrom: 'Write the whole path of the folder, from its root.',
  cannotBeWrittenNameAnother: (folder: string) => `${folder} cannot be written. Name another folder.`,
  holdsNoBackupGoodThud: (folder: string) =>
    `${folder} holds no backup of Good Thud. Name the folder that was given to the backup.`,
  thereNoSavedStateThere: (name: string, names: string) => `There is no saved state ${name}. There are: ${names}.`,
  notEmptyBackupNotLaid: (target: string) =>
    `${target} is not empty; a backup is not laid over what is there. Name a new folder with --data DIR.`,
  theSavedDatabase: 'The saved database',
  bringingBackFileOf: (index: number, count: number) => `Bringing back file ${index} of ${count}`,
  theSavedFile: (sha256: string) => `The saved file ${sha256}`,
  damagedOrGoneThisSaved: (what: string) =>
    `${what} is damaged or gone: this saved state cannot be brought back whole. Try an earlier one with --state NAME.`,
}
