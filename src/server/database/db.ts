import type { Kysely } from 'kysely'
import type { Schema } from './schema'

export type Db = Kysely<Schema>

/** Now, as it is stored. */
export function nowIso(): string {
  return new Date().toISOString()
}

/** Today where this machine stands, YYYY-MM-DD. */
export function todayIso(): string {
  return dayOf(nowIso())
}

/** The day of a moment where this machine stands, YYYY-MM-DD: the creator's own day, which a server that runs on their machine knows. */
export function dayOf(iso: string): string {
  const at = new Date(iso)
  const two = (value: number): string => String(value).padStart(2, '0')
  return `${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())}`
}
