import { sql } from 'kysely'

/** Of a source nothing was ever read to its end: not its catalogue or files, and not the account of a library that is searched. */
export const NOTHING_READ = sql<boolean>`(sources.last_sync_at IS NULL AND sources.whole_at IS NULL)`
/** The same, of libraries alone. */
export const WAS_NEVER_READ = sql<boolean>`(sources.kind = 'library' AND ${NOTHING_READ})`
