import path from 'node:path'
import { namePart } from '../files/file-name'

/** Gives out names that no file of an archive has yet. What looks like a folder in one is taken off. */
export function archiveNames(): (name: string) => string {
  const taken = new Set<string>()
  return (name) => {
    const plain = namePart(name) || 'sound'
    const { name: stem, ext } = path.parse(plain)
    for (let number = 1; ; number++) {
      const free = number === 1 ? plain : `${stem} (${number})${ext}`
      if (taken.has(free.toLowerCase())) continue
      taken.add(free.toLowerCase())
      return free
    }
  }
}
