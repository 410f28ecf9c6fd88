/** What a library said of the plan at one moment. */
export interface PlanSighting {
  /** ISO date and time. */
  readonly seenAt: string
  /** The day of it where the creator is, YYYY-MM-DD. */
  readonly seenOn: string
  /** Name of the plan; empty when there was none. */
  readonly plan: string
  /** YYYY-MM-DD; null where the library tells none. */
  readonly from: string | null
  readonly until: string | null
}

/** The period in which a copy was acquired, as it was told then. */
export interface AcquiredUnderPlan {
  readonly plan: string
  /** ISO date and time. */
  readonly acquiredAt: string
  readonly from: string
  readonly until: string
}

/**
 * The last day of the plan period that a copy was acquired in, YYYY-MM-DD, weighed against all that was seen of the plan since.
 *
 * It is the earliest end that was ever told, or the day before another plan, or none, was seen. It moves on only when a later end of
 * the same period was seen while the period still ran: "member since" told after a gap proves nothing for the gap. A plan of another
 * name, also a smaller one, is another plan, and one that is taken up again later is a new period.
 *
 * @param sightings All that was seen of the plan of this source, in any order; what was seen before the acquisition is passed over.
 */
export function planPeriodEnd(
  { plan, acquiredAt, from, until }: AcquiredUnderPlan,
  sightings: readonly PlanSighting[],
): string {
  let end = until
  let isOver = false
  const later = sightings
    .filter(({ seenAt }) => seenAt > acquiredAt)
    .sort((a, b) => (a.seenAt < b.seenAt ? -1 : a.seenAt > b.seenAt ? 1 : 0))
  for (const seen of later) {
    const { seenOn } = seen
    if (seen.plan !== plan || seen.from === null) {
      const changedOn = seen.from !== null && seen.from > from && seen.from < seenOn ? seen.from : seenOn
      end = earlier(end, dayBefore(changedOn))
      isOver = true
    } else if (seen.from === from && seen.until !== null) {
      const canGoOn = !isOver && seenOn <= end
      end = canGoOn ? seen.until : earlier(end, seen.until)
    }
  }
  return end
}

function earlier(one: string, other: string): string {
  return [one, other].sort()[0] as string
}

function dayBefore(day: string): string {
  return new Date(Date.parse(`${day}T00:00:00Z`) - 24 * 3600 * 1000).toISOString().slice(0, 10)
}
