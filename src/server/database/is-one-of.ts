import { type RawBuilder, sql } from 'kysely'

/**
 * Whether a column holds one of some numbers, as one parameter: the statement's text is the same however many there are, so that it is
 * made ready once.
 */
export function isOneOf(column: string, ids: readonly number[]): RawBuilder<boolean> {
  return sql<boolean>`${sql.ref(column)} IN (SELECT value FROM json_each(${JSON.stringify(ids)}))`
}
