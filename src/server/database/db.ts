import type { Kysely } from 'kysely'
import type { Schema } from './schema'

export type Db = Kysely<Schema>

/** Now, as it is stored. */
export function nowIso(): string {
  return new Date().toISOString()
}

/** Today in UTC, YYYY-MM-DD. */
export function todayIso(): string {
  return nowIso().slice(0, 10)
}
