import fs from 'node:fs'
import {
  type Detection,
  decodedFeatures,
  decodedTemplates,
  decoyOf,
  encodedTemplates,
  FeaturesError,
  type PreparedSound,
  soundTemplates,
  type TemplateRows,
} from '../../../core/hearing'
import { Recent } from '../../../core/recent'
import { workers as messages } from '../../../messages/server/workers'
import type { SearchedSound } from '../tasks'

/** A sound as its feature file has it; null for silence. @throws {FeaturesError} */
export function loadedSound(path: string): PreparedSound | null {
  return decodedFeatures(fs.readFileSync(path))
}

/** Sounds that were read last are held, up to so many frames (32 MB): a long track may hold a thousand others. */
const HELD_MAX_FRAMES = 8_000_000

/** Sounds by their index, read when they are wanted. @param load Reads one from its feature file. */
export function recentSounds(
  paths: readonly string[],
  load: (path: string) => PreparedSound | null,
): { at(index: number): PreparedSound | null } {
  const recent = new Recent<number, PreparedSound | null>(HELD_MAX_FRAMES, framesHeld)
  return { at: (index) => recent.get(index, () => load(paths[index] as string)) }
}

function framesHeld(sound: PreparedSound | null): number {
  return sound ? sound.pieces.reduce((sum, { samples }) => sum + samples.length, sound.samples.length) : 0
}

/** The sounds of detections; null where its features are gone or damaged. @param paths Detections carry the index into them. */
export function soundsOf(paths: readonly string[]): (detection: Detection) => PreparedSound | null {
  const sounds = recentSounds(paths, (path) => withErrorsSuppressed(() => loadedSound(path)))
  return ({ soundIndex }) => sounds.at(soundIndex)
}

/** A sound whose features are gone or damaged does not end the search for the others. Without a sound there is a reason: what is silent cannot be listened for. */
export function loadedOrReason({
  path,
}: Pick<SearchedSound, 'path'>):
  | { readonly sound: PreparedSound; readonly reason: null }
  | { readonly sound: null; readonly reason: string } {
  try {
    const sound = loadedSound(path)
    return sound ? { sound, reason: null } : { sound, reason: messages.nothingInTheMiddle }
  } catch (error) {
    if (error instanceof FeaturesError) return { sound: null, reason: error.message }
    return { sound: null, reason: messages.storedFeaturesCouldNotBe }
  }
}

/** File of what a sound or its decoy is looked up by, beside its features. */
function templatesPath(featurePath: string, ending: 'templates' | 'decoy'): string {
  return `${featurePath.replace(/\.features$/, '')}.${ending}`
}

/** What a sound is looked up by: as it was stored, else made from its features and stored. @throws {FeaturesError} */
export function loadedTemplates(featurePath: string): TemplateRows | null {
  return readTemplates(templatesPath(featurePath, 'templates')) ?? storedTemplates(featurePath)
}

/** What a decoy of a sound is looked up by, likewise. @throws {FeaturesError} */
export function loadedDecoyTemplates(featurePath: string): TemplateRows | null {
  const path = templatesPath(featurePath, 'decoy')
  return readTemplates(path) ?? makeTemplates(featurePath, path, decoyOf)
}

/** Makes what a sound is looked up by of its stored features, and stores it beside them. @throws {FeaturesError} */
export function storedTemplates(featurePath: string): TemplateRows | null {
  return makeTemplates(featurePath, templatesPath(featurePath, 'templates'), (sound) => sound)
}

function readTemplates(path: string): TemplateRows | null {
  return withErrorsSuppressed(() => decodedTemplates(fs.readFileSync(path)))
}

function makeTemplates(
  featurePath: string,
  path: string,
  made: (sound: PreparedSound) => PreparedSound,
): TemplateRows | null {
  const sound = loadedSound(featurePath)
  if (!sound) return null
  const templates = soundTemplates(made(sound).samples)
  // Where it cannot be stored it is made again the next time.
  withErrorsSuppressed(() => writeAtomically(path, encodedTemplates(templates)))
  return templates
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
