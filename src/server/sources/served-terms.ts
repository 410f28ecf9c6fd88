import { type Connector, SourceError } from '../ports/connector'
import { type HeldTerms, heldToText } from '../terms/held-to-text'
import type { ReadText } from '../terms/read-text'

const MAX_TERMS_BYTES = 2_000_000

/** Terms as a library serves them now, held to their text. @throws {SourceError} too-large, and what the library fails of. */
export async function fetchHeldTerms(
  connector: Connector,
  key: string,
  readText: ReadText,
  signal: AbortSignal,
): Promise<HeldTerms> {
  const served = await connector.terms(key, signal)
  if (Buffer.byteLength(served.text) > MAX_TERMS_BYTES)
    throw new SourceError(
      'too-large',
      `${connector.name} serves terms of more than ${MAX_TERMS_BYTES / 1e6} MB (${key}). Nothing here was changed.`,
    )
  return heldToText(served, readText)
}
