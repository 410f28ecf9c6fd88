/** A chunk of a RIFF file; `start` is where its contents begin. */
export interface RiffChunk {
  readonly id: string
  readonly start: number
  readonly size: number
}

/** A file that is no RIFF WAVE, or whose chunks do not fit into it. */
export class RiffError extends Error {
  override readonly name = 'RiffError'
  constructor(
    readonly code: 'not-wave' | 'too-large',
    message: string,
  ) {
    super(message)
  }
}

const HEADER = 12
const UNKNOWN_SIZE = 0xffffffff

/**
 * The chunks of a WAVE file, RIFF or RF64, in order. Chunks that reach past the end are cut there.
 *
 * @throws {RiffError} not-wave. Source: EBU Tech 3306 (RF64) for sizes held in `ds64`.
 */
export function riffChunks(bytes: Uint8Array): RiffChunk[] {
  const view = viewOf(bytes)
  const form = bytes.length >= HEADER ? text(bytes, 0, 4) : ''
  if ((form !== 'RIFF' && form !== 'RF64') || text(bytes, 8, 4) !== 'WAVE')
    throw new RiffError('not-wave', 'the file does not start as a WAVE file')
  const chunks: RiffChunk[] = []
  let longData: number | null = null
  for (let at = HEADER; at + 8 <= bytes.length; ) {
    const id = text(bytes, at, 4)
    const said = view.getUint32(at + 4, true)
    const full = id === 'data' && said === UNKNOWN_SIZE && longData !== null ? longData : said
    const size = Math.min(full, bytes.length - at - 8)
    chunks.push({ id, start: at + 8, size })
    if (id === 'ds64' && size >= 16) longData = Number(view.getBigUint64(at + 16, true))
    at += 8 + size + (size & 1)
  }
  return chunks
}

/**
 * A WAVE file with some chunks taken out and others added at its end. All other bytes stay as they are.
 *
 * @param drop Whether a chunk is taken out.
 * @throws {RiffError} not-wave; too-large when the result passes 4 GiB and the file is no RF64.
 */
export function withChunks(
  bytes: Uint8Array,
  drop: (chunk: RiffChunk, contents: Uint8Array) => boolean,
  added: readonly { readonly id: string; readonly contents: Uint8Array }[],
): Uint8Array {
  const kept = riffChunks(bytes).filter((chunk) => !drop(chunk, contentsOf(bytes, chunk)))
  const parts = [
    ...kept.map((chunk) => bytes.subarray(chunk.start - 8, chunk.start + chunk.size)),
    ...added.map(({ id, contents }) => chunkBytes(id, contents)),
  ]
  const size = HEADER + parts.reduce((sum, part) => sum + part.length + (part.length & 1), 0)
  const rf64 = text(bytes, 0, 4) === 'RF64'
  if (!rf64 && size - 8 >= UNKNOWN_SIZE) throw new RiffError('too-large', 'the file would pass 4 GiB')
  const out = new Uint8Array(size)
  out.set(bytes.subarray(0, HEADER))
  let at = HEADER
  for (const part of parts) {
    out.set(part, at)
    if (rf64 && text(part, 0, 4) === 'ds64') viewOf(out).setBigUint64(at + 8, BigInt(size - 8), true)
    at += part.length + (part.length & 1)
  }
  if (!rf64) viewOf(out).setUint32(4, size - 8, true)
  return out
}

/** The bytes of a chunk, without its head. */
export function contentsOf(bytes: Uint8Array, { start, size }: RiffChunk): Uint8Array {
  return bytes.subarray(start, start + size)
}

/** A whole chunk: name, size, contents. */
export function chunkBytes(id: string, contents: Uint8Array): Uint8Array {
  const out = new Uint8Array(8 + contents.length)
  for (let i = 0; i < 4; i++) out[i] = id.charCodeAt(i)
  viewOf(out).setUint32(4, contents.length, true)
  out.set(contents, 8)
  return out
}

/** Bytes as text, one character a byte. */
export function text(bytes: Uint8Array, start: number, length: number): string {
  return String.fromCharCode(...bytes.subarray(start, start + length))
}

function viewOf(bytes: Uint8Array): DataView {
  return new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
}
