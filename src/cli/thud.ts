import { commands as messages } from '../messages/server/commands'
import { EXIT, UsageError } from './exit'

const USAGE = messages.usageThudCheckFileSounds

type Command = (args: readonly string[]) => Promise<number> | number

/** Every command; its code is loaded when it is asked for. */
const COMMANDS: Readonly<Record<string, () => Promise<Command>>> = {
  check: async () => (await import('./check-command')).checkCommand,
  backup: async () => (await import('./backup-command')).backupCommand,
  restore: async () => (await import('./backup-command')).restoreCommand,
  doctor: async () => (await import('./doctor-command')).doctorCommand,
  ledger: async () => (await import('./ledger-command')).ledgerCommand,
  papers: async () => (await import('./papers-command')).papersCommand,
  mix: async () => (await import('./score-commands')).mixCommand,
  score: async () => (await import('./score-commands')).scoreCommand,
  videos: async () => (await import('./videos-command')).videosCommand,
}

/** Runs the command line. @returns The exit status: 0 done, 1 bad input or a broken ledger, 2 usage, 3 a file that was examined only in part. */
export async function main(args: readonly string[]): Promise<number> {
  try {
    if (asksForHelp(args)) {
      console.log(USAGE)
      return EXIT.done
    }
    const [command, ...rest] = args
    const run = command !== undefined && Object.hasOwn(COMMANDS, command) ? COMMANDS[command] : undefined
    if (run) return await (await run())(rest)
    throw new UsageError(command ? messages.thereIsNoCommand(command) : messages.noCommandWasGiven)
  } catch (error) {
    if (!(error instanceof UsageError)) throw error
    console.error(`${error.message}\n\n${USAGE}`)
    return EXIT.usage
  }
}

/** Also behind a command; what stands behind `--` is a name, whatever it looks like. */
function asksForHelp(args: readonly string[]): boolean {
  const end = args.indexOf('--')
  const options = end < 0 ? args : args.slice(0, end)
  return args[0] === 'help' || options.some((arg) => arg === '--help' || arg === '-h')
}
