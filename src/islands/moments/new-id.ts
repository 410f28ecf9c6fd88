/** An id for something new in a document, which nothing else has. */
export function newId(): string {
  return crypto.randomUUID()
}
