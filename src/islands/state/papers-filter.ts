import type { PapersRow } from '../../contract'

/** What the list of papers is narrowed to. */
export interface PapersFilter {
  readonly text: string
  readonly noPapers: boolean
  readonly owesCredit: boolean
  /** Days, or null for any. */
  readonly expiresWithinDays: number | null
}

export const NO_FILTER: PapersFilter = { text: '', noPapers: false, owesCredit: false, expiresWithinDays: null }

const DAY_MS = 86_400_000

/** Rows that pass every active filter. @param today YYYY-MM-DD. */
export function filteredPapers(rows: readonly PapersRow[], filter: PapersFilter, today: string): PapersRow[] {
  const words = filter.text.toLowerCase().split(/\s+/).filter(Boolean)
  const last =
    filter.expiresWithinDays === null
      ? null
      : new Date(Date.parse(today) + filter.expiresWithinDays * DAY_MS).toISOString().slice(0, 10)
  return rows.filter((row) => {
    const text = `${row.title} ${row.maker} ${row.sourceName} ${row.termsTitle} ${row.grantTitle}`.toLowerCase()
    return (
      words.every((word) => text.includes(word)) &&
      (!filter.noPapers || row.grantId === null) &&
      (!filter.owesCredit || row.creditLine !== null) &&
      (last === null || (row.expiresOn !== null && row.expiresOn <= last))
    )
  })
}
