import { application as messages } from '../messages/server/application'

/** Everything that can be expected to fail. What each means for a request is decided in one table, at the edge. */
export const DOMAIN_ERROR_CODES = [
  'all-bound',
  'already',
  'bad-clauses',
  'bad-description',
  'bad-edit',
  'bad-id',
  'bad-json',
  'bad-key',
  'bad-range',
  'bought',
  'changing',
  'choose-tier',
  'disk-full',
  'empty-file',
  'foreign',
  'from-library',
  'keys-damaged',
  'replaced',
  'name-taken',
  'no-copy',
  'no-export',
  'no-folder',
  'no-such-point',
  'none',
  'not-a-list',
  'not-a-pack',
  'not-an-answer',
  'not-captions',
  'not-checked',
  'not-evidence',
  'not-found',
  'not-listened-to',
  'not-odrl',
  'not-offered',
  'not-prepared',
  'nothing-to-do',
  'over-limit',
  'own',
  'own-data',
  'price-changed',
  'range',
  'search-stopped',
  'silent',
  'too-large',
  'too-many',
  'unreadable-text',
  'unsupported-ending',
  'upload-broke-off',
] as const
export type DomainErrorCode = (typeof DOMAIN_ERROR_CODES)[number]

/** An expected failure. The detail says what happened and what to do. */
export class DomainError extends Error {
  override readonly name = 'DomainError'
  constructor(
    readonly code: DomainErrorCode,
    readonly detail: string,
    options?: ErrorOptions,
  ) {
    super(detail, options)
  }
}

/** A thing that is not there. */
export function notFound(what: string): DomainError {
  return new DomainError('not-found', messages.notHereMayHaveBeen(what))
}
