import fs from 'node:fs'
import path from 'node:path'
import { z } from 'zod'
import { LibrarySecrets } from '../../contract/library-account'
import { DomainError } from '../domain-error'

/** Name of the file in a data folder that holds what signs us in at libraries. */
export const KEY_FILE = 'keys.json'
/** Read and written by the user alone. */
const OWN_MODE = 0o600

const Kept = z.object({ format: z.literal('good-thud-keys/1'), keys: z.record(z.string().max(80), LibrarySecrets) })

/**
 * What signs us in at each library, in a file of its own that only the user may read: not in the database, so that no copy, export or question of it
 * holds a key.
 */
export class KeyFile {
  private readonly file: string

  constructor(dataDir: string) {
    this.file = path.join(dataDir, KEY_FILE)
  }

  /** @throws {DomainError} keys-damaged: the file is there and is not as it was written; it is left as it is. */
  find(sourceId: string): LibrarySecrets | null {
    const { keys } = this.read()
    return Object.hasOwn(keys, sourceId) ? (keys[sourceId] ?? null) : null
  }

  set(sourceId: string, secrets: LibrarySecrets): void {
    const { keys } = this.read()
    this.write({ ...keys, [sourceId]: secrets })
  }

  forget(sourceIds: readonly string[]): void {
    const { keys } = this.read()
    const left = Object.fromEntries(Object.entries(keys).filter(([id]) => !sourceIds.includes(id)))
    if (Object.keys(left).length < Object.keys(keys).length) this.write(left)
  }

  private read(): z.infer<typeof Kept> {
    let text: string
    try {
      text = fs.readFileSync(this.file, 'utf8')
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === 'ENOENT') return { format: 'good-thud-keys/1', keys: {} }
      throw error
    }
    const kept = Kept.safeParse(jsonOf(text))
    // What is in it is not told: it may be a key.
    if (!kept.success)
      throw new DomainError(
        'keys-damaged',
        `The file with your keys (${this.file}) is damaged. Move it away, and give the keys of your libraries again in Sources.`,
      )
    return kept.data
  }

  /** In one step: after a cut of power the file is as it was before, or as it is to be. */
  private write(keys: Readonly<Record<string, LibrarySecrets>>): void {
    const part = `${this.file}.part`
    fs.rmSync(part, { force: true })
    const fd = fs.openSync(part, 'wx', OWN_MODE)
    try {
      fs.writeFileSync(fd, JSON.stringify({ format: 'good-thud-keys/1', keys } satisfies z.infer<typeof Kept>))
      fs.fsyncSync(fd)
    } finally {
      fs.closeSync(fd)
    }
    fs.renameSync(part, this.file)
  }
}

/** Copies the keys of one folder to another, where there are any; only the user may read the copy too. */
export async function copyKeys(from: string, to: string): Promise<void> {
  const text = await fs.promises.readFile(path.join(from, KEY_FILE)).catch(() => null)
  if (text !== null)
    await fs.promises.writeFile(path.join(to, KEY_FILE), text, { mode: OWN_MODE, flag: 'wx', flush: true })
}

function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    return null
  }
}
