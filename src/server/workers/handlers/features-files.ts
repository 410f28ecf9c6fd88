import fs from 'node:fs'
import { decodedFeatures, FeaturesError, type PreparedSound } from '../../../core/hearing'
import { workers as messages } from '../../../messages/server/workers'
import type { SearchedSound } from '../tasks'

/** A sound as its feature file has it; null for silence. @throws {FeaturesError} */
export function loadedSound(path: string): PreparedSound | null {
  return decodedFeatures(fs.readFileSync(path))
}

/** A sound whose features are gone or damaged does not end the search for the others. */
export function loadedOrReason({ path }: SearchedSound): { sound: PreparedSound | null; reason: string | null } {
  try {
    return { sound: loadedSound(path), reason: null }
  } catch (error) {
    if (error instanceof FeaturesError) return { sound: null, reason: error.message }
    return { sound: null, reason: messages.storedFeaturesCouldNotBe }
  }
}

/** What `read` gives, or null where it fails. */
export function withErrorsSuppressed<T>(read: () => T): T | null {
  try {
    return read()
  } catch {
    return null
  }
}

/** Writes a file under a temporary name and renames it. */
export function writeAtomically(path: string, bytes: Uint8Array): void {
  const temporary = `${path}.${process.pid}.${Math.round(performance.now() * 1000)}.part`
  fs.writeFileSync(temporary, bytes)
  fs.renameSync(temporary, path)
}
