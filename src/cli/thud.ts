import { checkCommand } from './check-command'
import { EXIT, UsageError } from './exit'

const USAGE = `Usage:
  thud check FILE --sounds FOLDER [--json OUT]

  FILE            the finished video or sound file to listen to
  --sounds PLACE  a folder (searched recursively), or a text file with one path a line
  --json OUT      also write the result as JSON ("-" for standard output)
  --stage KIND    "copies" searches every sound with full sensitivity, "catalogue" is quicker with many
                  (default: copies for up to 200 sounds)
  --features DIR  keep prepared features of the sounds there, and reuse them the next time
  --workers N     worker threads to use (default: one for each core)`

/** Runs the command line. @returns The exit status: 0 done, 1 bad input, 2 usage. */
export async function main(args: readonly string[]): Promise<number> {
  try {
    const [command, ...rest] = args
    if (command === 'check') return await checkCommand(rest)
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
