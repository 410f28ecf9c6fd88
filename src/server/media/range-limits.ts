import type { TimeRange } from '../../core/time-range'
import { media as messages } from '../../messages/server/media'
import { DomainError } from '../domain-error'

/** Longest part that is cut out or described, s. */
export const MAX_RANGE_S = 600

/** @throws {DomainError} bad-range. */
export function requireRange({ startS, endS }: TimeRange): void {
  if (!(startS >= 0 && endS > startS && endS - startS <= MAX_RANGE_S))
    throw new DomainError('bad-range', messages.markPartUpTenMinutes)
}
