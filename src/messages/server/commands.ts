/** What the server says of commands. */
export const commands = {
  thereNoGoodThudData: (dataDir: string) =>
    `${dataDir}: there is no Good Thud data in this folder. Name it with --data FOLDER.`,
  sayWhereToBackupDir: 'Say where to: backup DIR.',
  keepTakesNumberBackupsSuch: '--keep takes a number of backups, such as 7.',
  filesAndDatabaseAreSaved: (fileCount: number, folder: string, megabytes: string, megabytes2: string) =>
    `${fileCount} files and the database are saved in ${folder}: ${megabytes}, of which ${megabytes2} were new.`,
  wasReadBackAndWhole: 'It was read back and is whole. The keys of your libraries are in it: whoever has it has them.',
  wasReadBackAndWholeKeys:
    'It was read back and is whole. The keys of your libraries are not in it; --with-keys saves them too.',
  sayWhereFromRestoreDir: 'Say where from: restore DIR --data NEW.',
  filesAndDatabaseAreIn: (count: number, at: string, dataDir: string) =>
    `${count} files and the database of ${at} are in ${dataDir}, all verified.`,
  filesWereMissingAlreadyWhen: (count: number) =>
    `${count} files were missing already when it was saved: thud doctor names them.`,
  makingAgainWhatHearingNeeds: 'Making again what hearing needs',
  thereNoSuchFolderOr: (place: string) => `${place}: there is no such folder or list of sounds.`,
  thereAreNoSoundFiles: (place: string) => `${place}: there are no sound files in it.`,
  theListIsTooLong: (list: string) => `${list}: the list is too long.`,
  namesWhichNotFile: (list: string, name: string) => `${list}: it names “${name}”, which is not a file.`,
  leftOut: (name: string, message: string) => `${name}: left out. ${message}`,
  noneSoundsCouldBeDecoded: 'None of the sounds could be decoded.',
  featuresCannotBeSavedThere: (folder: string) =>
    `${folder}: features cannot be saved there. Name a folder that can be written to.`,
  truePeakDbtp: (truePeakDbtp: string) => `, true peak ${truePeakDbtp} dBTP`,
  listenedForSoundsDecodeS: (soundCount: number, decodeS: string, indexS: string, searchS: string) =>
    `Listened for ${soundCount} sounds (decode ${decodeS} s, index ${indexS} s, search ${searchS} s).`,
  noneOfThemWasHeard: 'None of them was heard.',
  wasNotListenedTo: (name: string, notListenedReason: string) => `  ${name} was not listened to: ${notListenedReason}`,
  cancelsItselfOut: (name: string, clock: string, clock2: string) =>
    `  ${name}: left and right cancel each other out from ${clock} to ${clock2}; what is there was not recognised`,
  cancelsItselfOutInPart: (name: string, clock: string, clock2: string) =>
    `  ${name}: from ${clock} to ${clock2} part of what is heard cancels itself out between left and right; it was not recognised`,
  couldNotBeDecodedFrom: (name: string, clock: string, clock2: string) =>
    `  ${name} could not be decoded from ${clock} to ${clock2}`,
  breaksOffHowMuchMissing: (name: string) => `  ${name} breaks off; how much is missing is not known`,
  speed: (speed: number) => `${speed} % speed`,
  muffledAboveHz: (cutoffHz: number | null) => `muffled above ${cutoffHz} Hz`,
  inARoom: 'in a room',
  pitchKept: (pace: string) => `${pace}, pitch kept`,
  notListenedFor: (nameOf: string, reason: string) => `${nameOf}: not listened for. ${reason}`,
  nameOneFileListen: 'Name one file to listen to.',
  sayWhereSoundsAreSounds: 'Say where the sounds are: --sounds FOLDER.',
  workersTakesWholeNumberFrom: '--workers takes a whole number from 1 to 64.',
  stageTakesNot: (stages: string, stage: string) => `--stage takes ${stages}, not “${stage}”.`,
  thereIsNoSuchFile: (file: string) => `${file}: there is no such file.`,
  thisIsNotAFile: (file: string) => `${file}: this is not a file.`,
  theFileIsEmpty: (file: string) => `${file}: the file is empty.`,
  resultCouldNotBeWritten: (out: string, folder: string) =>
    `${out}: the result could not be written, there is no folder ${folder} that can be written to.`,
  whatHearingNeedsSoundsQueued: (remaking: number) =>
    `What hearing needs of ${remaking} sounds is queued to be made again when Good Thud runs.`,
  startGoodThudWhatFetched: 'Start Good Thud: what is fetched or made again is queued.',
  thudDoctorTakesNoName: 'thud doctor takes no name.',
  entriesHoldThingsAreNot: (entries: number, mismatchCount: number) =>
    `${entries} entries hold; ${mismatchCount} things are not as they say.`,
  entriesAllAsTheyWere: (entries: number, hash: string) =>
    `${entries} entries, all as they were written, and everything on file is as they say. The last one is ${hash}.`,
  sayWhatDoLedgerVerify: 'Say what to do: ledger verify.',
  writtenTo: (out: string) => `Written to ${out}.`,
  sayWhatDoPapersExport: 'Say what to do: papers export.',
  formatTakes: (exportFormats: string) => `--format takes ${exportFormats}.`,
  thudMixTakesVideoAnd: 'thud mix takes a video and --out DIR.',
  nothingIsPlacedIn: (title: string) => `Nothing is placed in ${title}.`,
  leftOutAudioNotHere: (title: string) => `${title}: left out. Its audio is not here.`,
  sTruePeak: (lengthS: string, words: string, words2: string) => `${lengthS} s, ${words}, true peak ${words2}`,
  sayWhatDoScoreExport: 'Say what to do: score export VIDEO, or score import VIDEO FILE.',
  whatPlacedWasChangedMeanwhile: 'What is placed was changed meanwhile. Try again.',
  atSNoSoundHere: (name: string, startS: string) => `${name} at ${startS} s: no sound here has this file.`,
  leftOut2: (line: string) => `Left out: ${line}`,
  thereNoVideoThudVideos: (named: string) => `There is no video “${named}”. thud videos lists them.`,
  severalVideosAreCalledName: (named: string, found: string) =>
    `Several videos are called “${named}”. Name one by its number: ${found}.`,
  thereIsNoVideoYet: 'There is no video yet.',
  thudVideosTakesNoName: 'thud videos takes no name.',
  usageThudCheckFileSounds:
    'Usage:\n  thud check FILE --sounds FOLDER [--json OUT]\n  thud backup DIR [--keep N] [--with-keys] [--data FOLDER]\n  thud restore DIR [--state NAME] --data NEW\n  thud doctor [--repair] [--data FOLDER]\n  thud ledger verify [--data FOLDER]\n  thud papers export [--format csv|json|odrl] [--out FILE] [--data FOLDER]\n  thud mix VIDEO --out DIR [--stems] [--flac] [--video] [--data FOLDER]\n  thud score export VIDEO [--format otio|edl|csv] [--out FILE] [--data FOLDER]\n  thud score import VIDEO FILE [--data FOLDER]\n  thud videos [--data FOLDER]\n\n  FILE            the finished video or sound file to listen to\n  --sounds PLACE  a folder (searched recursively), or a text file with one path a line\n  --json OUT      also write the result as JSON ("-" for standard output)\n  (ends with 3 when the file could be examined only in part)\n  --stage KIND    "copies" searches every sound with full sensitivity, "catalogue" is quicker with many\n                  (default: copies for up to 200 sounds)\n  --features DIR  keep prepared features of the sounds there, and reuse them the next time\n  --workers N     worker threads to use (default: one for each core)\n\n  backup          saves database and files into a folder, also while the application runs; what is there is not copied again\n  restore         makes a new data folder from the newest backup of a folder, or from the one that --state names, and verifies all of it\n  doctor          examines every stored file, the tables and the ledger; --repair repairs what is safe\n  ledger verify   recomputes the chain of all licence events and names the first entry that was changed\n  mix             writes what is placed in a video (its number or title) into sound files; ends with 3 when a sound\'s audio is missing\n  score export    writes what is placed as a list for an editing program or as a cue sheet\n  score import    places what such a list places; ends with 3 when a clip\'s file is not known here\n  videos          lists all videos with their states: what was checked, what is open, what is owed\n  papers export   writes all papers and what they allow in an open format (default: csv, to standard output)\n  --data FOLDER   the application\'s data (default: THUD_DATA, else data/own)',
  thereIsNoCommand: (command: string) => `There is no command “${command}”.`,
  noCommandWasGiven: 'No command was given.',
}
