import { parseArgs } from 'node:util'
import { stateInWords } from '../core/clearance'
import { commands as messages } from '../messages/server/commands'
import { listVideosWithStates } from '../server/clearance/video-states'
import { todayIso } from '../server/database/db'
import { dataFolder, withData } from './data-folder'
import { EXIT, UsageError } from './exit'

/** `thud videos`: all videos with their states, as the application shows them. @returns The exit status. @throws {UsageError} */
export async function videosCommand(args: readonly string[]): Promise<number> {
  return withData(parsedDataDir(args), async (db) => {
    // States are decided anew: the folder is only read here.
    const videos = await listVideosWithStates(db, todayIso())
    if (videos.length === 0) console.log(messages.thereIsNoVideoYet)
    for (const { title, state } of videos) console.log(`${title}: ${stateInWords(state)}`)
    return EXIT.done
  })
}

function parsedDataDir(args: readonly string[]): string {
  try {
    const { values, positionals } = parseArgs({
      args: [...args],
      allowPositionals: true,
      options: { data: { type: 'string' } },
    })
    if (positionals.length > 0) throw new UsageError(messages.thudVideosTakesNoName)
    return dataFolder(values.data)
  } catch (error) {
    throw error instanceof UsageError ? error : new UsageError((error as Error).message)
  }
}
