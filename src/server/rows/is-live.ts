import { sql } from 'kysely'

/** Whether a source is a library that is searched and not mirrored. */
export const IS_LIVE = sql<number>`(sources.description_json ->> '$.search' IS NOT NULL)`
