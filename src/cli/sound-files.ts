import fs from 'node:fs'
import path from 'node:path'
import { isSoundFile, isVideoFile } from '../core/formats/media-endings'
import { commands as messages } from '../messages/server/commands'
import { InputError } from './exit'

/** A sound to listen for. */
export interface ListedFile {
  /** As it is reported: relative to the folder, or as the list has it. */
  readonly name: string
  readonly path: string
}

const MAX_LIST_BYTES = 64 * 1024 * 1024

/**
 * The sounds that a folder (recursive) or a text file with one path a line names, in order of their names.
 *
 * @throws {InputError} when the place is not there or names no sound.
 */
export function soundFiles(place: string): ListedFile[] {
  const stat = fs.statSync(place, { throwIfNoEntry: false })
  if (!stat) throw new InputError(messages.thereNoSuchFolderOr(place))
  const files = stat.isDirectory() ? filesOfFolder(place) : filesOfList(place, stat.size)
  if (files.length === 0) throw new InputError(messages.thereAreNoSoundFiles(place))
  return files
}

function filesOfFolder(folder: string): ListedFile[] {
  return (
    fs
      .readdirSync(folder, { recursive: true, withFileTypes: true })
      .filter((entry) => isSoundFile(entry.name) || isVideoFile(entry.name))
      .map((entry) => path.join(entry.parentPath ?? entry.path, entry.name))
      // A link to a file is as good as the file.
      .filter((full) => fs.statSync(full, { throwIfNoEntry: false })?.isFile())
      .map((full) => ({ name: path.relative(folder, full), path: path.resolve(full) }))
      .sort((a, b) => (a.name < b.name ? -1 : 1))
  )
}

function filesOfList(list: string, sizeBytes: number): ListedFile[] {
  if (sizeBytes > MAX_LIST_BYTES) throw new InputError(messages.theListIsTooLong(list))
  const base = path.dirname(path.resolve(list))
  const lines = fs.readFileSync(list, 'utf8').split(/\r?\n/)
  return lines
    .map((line) => line.trim())
    .filter((line) => line !== '')
    .map((name) => {
      const full = path.resolve(base, name)
      if (!fs.statSync(full, { throwIfNoEntry: false })?.isFile())
        throw new InputError(messages.namesWhichNotFile(list, name.slice(0, 200)))
      return { name, path: full }
    })
}
