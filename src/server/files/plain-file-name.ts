/** A name that may stand on every system, and in no other folder. */
export function plainFileName(name: string): string {
  return name.replace(/[\\/:*?"<>|]+/g, ' ').trim()
}
