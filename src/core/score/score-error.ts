export const SCORE_ERROR_CODES = [
  'not-there',
  'there-already',
  'not-empty',
  'bad-time',
  'bad-value',
  'too-many',
  'too-deep',
] as const

/** An edit that cannot be done. The score is as it was. */
export class ScoreError extends Error {
  override readonly name = 'ScoreError'
  constructor(
    readonly code: (typeof SCORE_ERROR_CODES)[number],
    message: string,
  ) {
    super(message)
  }
}
