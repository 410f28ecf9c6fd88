import { sql } from 'kysely'

/** Of a library nothing was ever read to its end: not its catalogue, and not the account of one that is searched. */
export const WAS_NEVER_READ = sql<boolean>`(sources.kind = 'library' AND sources.last_sync_at IS NULL AND sources.whole_at IS NULL)`
