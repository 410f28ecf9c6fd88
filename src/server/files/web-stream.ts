import { Readable } from 'node:stream'

/**
 * The body of a request or answer as a Node stream.
 *
 * A stream that fails while nobody reads it yet must not end the process: the reader meets the failure when it comes.
 */
export function bodyStream(body: ReadableStream): Readable {
  return tended(Readable.fromWeb(body as never))
}

/** Keeps a failure for whoever reads the stream, instead of throwing it into the void. */
export function tended(stream: Readable): Readable {
  stream.on('error', () => {})
  return stream
}
