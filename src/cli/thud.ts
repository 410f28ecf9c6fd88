import { backupCommand, restoreCommand } from './backup-command'
import { checkCommand } from './check-command'
import { doctorCommand } from './doctor-command'
import { EXIT, UsageError } from './exit'
import { ledgerCommand } from './ledger-command'
import { papersCommand } from './papers-command'
import { mixCommand, scoreCommand } from './score-commands'
import { videosCommand } from './videos-command'

const USAGE = `Usage:
  thud check FILE --sounds FOLDER [--json OUT]
  thud backup DIR [--keep N] [--with-keys] [--data FOLDER]
  thud restore DIR [--state NAME] --data NEW
  thud doctor [--repair] [--data FOLDER]
  thud ledger verify [--data FOLDER]
  thud papers export [--format csv|json|odrl] [--out FILE] [--data FOLDER]
  thud mix VIDEO --out DIR [--stems] [--flac] [--video] [--data FOLDER]
  thud score export VIDEO [--format otio|edl|csv] [--out FILE] [--data FOLDER]
  thud score import VIDEO FILE [--data FOLDER]
  thud videos [--data FOLDER]

  FILE            the finished video or sound file to listen to
  --sounds PLACE  a folder (searched recursively), or a text file with one path a line
  --json OUT      also write the result as JSON ("-" for standard output)
  (ends with 3 when the file could be examined only in part)
  --stage KIND    "copies" searches every sound with full sensitivity, "catalogue" is quicker with many
                  (default: copies for up to 200 sounds)
  --features DIR  keep prepared features of the sounds there, and reuse them the next time
  --workers N     worker threads to use (default: one for each core)

  backup          saves database and files into a folder, also while the application runs; what is there is not copied again
  restore         makes a new data folder from the newest backup of a folder, or from the one that --state names, and verifies all of it
  doctor          examines every stored file, the tables and the ledger; --repair repairs what is safe
  ledger verify   recomputes the chain of all licence events and names the first entry that was changed
  mix             writes what is placed in a video (its number or title) into sound files; ends with 3 when a sound's audio is missing
  score export    writes what is placed as a list for an editing program or as a cue sheet
  score import    places what such a list places; ends with 3 when a clip's file is not known here
  videos          lists all videos with their states: what was checked, what is open, what is owed
  papers export   writes all papers and what they allow in an open format (default: csv, to standard output)
  --data FOLDER   the application's data (default: THUD_DATA, else data/own)`

/** Runs the command line. @returns The exit status: 0 done, 1 bad input or a broken ledger, 2 usage, 3 a file that was examined only in part. */
export async function main(args: readonly string[]): Promise<number> {
  try {
    const [command, ...rest] = args
    if (command === 'check') return await checkCommand(rest)
    if (command === 'backup') return await backupCommand(rest)
    if (command === 'restore') return await restoreCommand(rest)
    if (command === 'doctor') return await doctorCommand(rest)
    if (command === 'ledger') return await ledgerCommand(rest)
    if (command === 'papers') return await papersCommand(rest)
    if (command === 'mix') return await mixCommand(rest)
    if (command === 'score') return await scoreCommand(rest)
    if (command === 'videos') return await videosCommand(rest)
    if (command === '--help' || command === '-h' || command === 'help') {
      console.log(USAGE)
      return EXIT.done
    }
    throw new UsageError(command ? `There is no command “${command}”.` : 'No command was given.')
  } catch (error) {
    if (!(error instanceof UsageError)) throw error
    console.error(`${error.message}\n\n${USAGE}`)
    return EXIT.usage
  }
}
