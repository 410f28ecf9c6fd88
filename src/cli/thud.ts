import { commands as messages } from '../messages/server/commands'
import { backupCommand, restoreCommand } from './backup-command'
import { checkCommand } from './check-command'
import { doctorCommand } from './doctor-command'
import { EXIT, UsageError } from './exit'
import { ledgerCommand } from './ledger-command'
import { papersCommand } from './papers-command'
import { mixCommand, scoreCommand } from './score-commands'
import { videosCommand } from './videos-command'

const USAGE = messages.usageThudCheckFileSounds

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
    throw new UsageError(command ? messages.thereIsNoCommand(command) : messages.noCommandWasGiven)
  } catch (error) {
    if (!(error instanceof UsageError)) throw error
    console.error(`${error.message}\n\n${USAGE}`)
    return EXIT.usage
  }
}
