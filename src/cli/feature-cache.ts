import { createHash } from 'node:crypto'
import fs from 'node:fs'
import path from 'node:path'
import { decodedFeatures } from '../core/hearing'
import { commands as messages } from '../messages/server/commands'
import { MediaError } from '../server/media/decoder'
import { type Pool, TaskError } from '../server/workers/pool'
import type { SoundAnalysis } from '../server/workers/tasks'
import { runWatchedTask } from '../server/workers/watched-task'
import { InputError } from './exit'
import type { ListedFile } from './sound-files'

/** A sound that can be listened for. */
export interface IndexedSound {
  readonly name: string
  readonly featurePath: string
}

/**
 * Makes every sound ready, reusing what an earlier run left in the folder. Features are named by the content of the sound, so
 * a changed file is prepared anew and a renamed one is not. A sound that cannot be decoded is named and left out.
 *
 * @throws {InputError} when none can be used, or when the folder cannot be written to.
 */
export async function indexSounds(
  pool: Pool,
  files: readonly ListedFile[],
  folder: string,
  workers: number,
): Promise<IndexedSound[]> {
  makeFolder(folder)
  const results: (IndexedSound | null)[] = files.map(() => null)
  const queue = files.map((file, index) => ({ file, index }))
  const inWork = new Map<string, Promise<void>>()
  const lane = async (): Promise<void> => {
    for (let next = queue.shift(); next; next = queue.shift()) {
      const { file, index } = next
      try {
        const featurePath = path.join(folder, `${contentHash(file.path)}.features`)
        // Two files of the same content are prepared once.
        const preparing = inWork.get(featurePath) ?? prepare(pool, file.path, featurePath)
        inWork.set(featurePath, preparing)
        await preparing
        results[index] = { name: file.name, featurePath }
      } catch (error) {
        if (!(error instanceof MediaError) && !(error instanceof TaskError)) throw error
        console.error(messages.leftOut(file.name, error.message))
      }
    }
  }
  await Promise.all(Array.from({ length: workers }, lane))
  const usable = results.filter((result) => result !== null)
  if (usable.length === 0) throw new InputError(messages.noneSoundsCouldBeDecoded)
  return usable
}

async function prepare(pool: Pool, soundPath: string, featurePath: string): Promise<void> {
  if (isUsable(featurePath)) return
  await runWatchedTask<SoundAnalysis>(pool, 'analyseSound', { path: soundPath, featurePath })
}

/** Features of another version, or cut off by a full disk, are made anew. */
function isUsable(featurePath: string): boolean {
  try {
    decodedFeatures(fs.readFileSync(featurePath))
    return true
  } catch {
    return false
  }
}

function makeFolder(folder: string): void {
  try {
    fs.mkdirSync(folder, { recursive: true })
    fs.accessSync(folder, fs.constants.W_OK)
  } catch {
    throw new InputError(messages.featuresCannotBeSavedThere(folder))
  }
}

function contentHash(file: string): string {
  try {
    return createHash('sha256').update(fs.readFileSync(file)).digest('hex')
  } catch (cause) {
    throw new TaskError('unreadable', `It cannot be read (${cause instanceof Error ? cause.message : ''}).`)
  }
}
