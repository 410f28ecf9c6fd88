/** An expected failure of a request: becomes a problem answer. The detail says what happened and what to do. */
export class ProblemError extends Error {
  override readonly name = 'ProblemError'
  constructor(
    readonly status: 400 | 403 | 404 | 409 | 413 | 415 | 416 | 422 | 500 | 502 | 507,
    readonly code: string,
    readonly detail: string,
    options?: ErrorOptions,
  ) {
    super(detail, options)
  }
}

/** A thing that is not there. */
export function notFound(what: string): ProblemError {
  return new ProblemError(404, 'not-found', `${what} is not here. It may have been removed; go back and choose again.`)
}
