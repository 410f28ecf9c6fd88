import { DomainError } from '../domain-error'

/** A part of a sound or of a sound track, s: from, to. */
export type Span = readonly [number, number]

/** Longest part that is cut out or described, s. */
export const MAX_SPAN_S = 600

/** @throws {DomainError} bad-span. */
export function requireSpan([fromS, toS]: Span): void {
  if (!(fromS >= 0 && toS > fromS && toS - fromS <= MAX_SPAN_S))
    throw new DomainError('bad-span', 'Mark a part of up to ten minutes that ends after it starts.')
}
