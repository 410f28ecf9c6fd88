import path from 'node:path'

/** Whether a folder is another one, or lies in it. */
export function isInside(folder: string, other: string): boolean {
  const relative = path.relative(other, folder)
  return relative === '' || (!relative.startsWith('..') && !path.isAbsolute(relative))
}
