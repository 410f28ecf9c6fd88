import { createHash } from 'node:crypto'
import fs from 'node:fs'
import { pipeline } from 'node:stream/promises'

/** SHA-256 of a file, hexadecimal, read piece by piece. */
export async function hashFile(file: string, signal?: AbortSignal): Promise<string> {
  const hash = createHash('sha256')
  await pipeline(fs.createReadStream(file), hash, { signal })
  return hash.digest('hex')
}
