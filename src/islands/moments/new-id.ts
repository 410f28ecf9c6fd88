/** An id for a new moment, which no other has. */
export function newMomentId(): string {
  return crypto.randomUUID()
}
