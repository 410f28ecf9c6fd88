/** What the server says of database. */
export const database = {
  beforeTheFirstMigration: 'before the first migration',
  holdsFilesGoodThudAnd: (dataDir: string, databaseName: string) =>
    `${dataDir} holds files of Good Thud, and its database is missing or empty. Put ${databaseName} back, or bring back a backup into a new folder: thud restore DIR --data NEW. To begin anew, name an empty folder.`,
  damagedKeepAsAndBring: (file: string) =>
    `${file} is damaged. Keep it as it is, and bring back a backup into a new folder: thud restore DIR --data NEW.`,
  goodThudAlreadyRunsOn: (dataDir: string, whose: string) =>
    `Good Thud already runs on ${dataDir}${whose}. End that one first, or name another folder with --data DIR.`,
}
