import fs from 'node:fs'

const HEAD_BYTES = 256 * 1024
const UNKNOWN_SIZE = 0xffffffff

/**
 * Length that a WAVE file states in its head, s: a file that was cut off still states the whole. Null for any other file, and for one
 * that was written as a stream and states none.
 */
export async function readStatedWavDurationS(path: string): Promise<number | null> {
  const head = await readFileHead(path)
  const form = head.toString('latin1', 0, 4)
  if ((form !== 'RIFF' && form !== 'RF64') || head.toString('latin1', 8, 12) !== 'WAVE') return null
  let bytesPerS: number | null = null
  let longBytes: number | null = null
  for (let at = 12; at + 8 <= head.length; ) {
    const id = head.toString('latin1', at, at + 4)
    const size = head.readUInt32LE(at + 4)
    if (id === 'ds64' && at + 24 <= head.length) longBytes = Number(head.readBigUInt64LE(at + 16))
    if (id === 'fmt ' && at + 20 <= head.length) bytesPerS = head.readUInt32LE(at + 16)
    if (id === 'data') {
      const bytes = size === UNKNOWN_SIZE ? longBytes : size
      return bytes !== null && bytes > 0 && bytesPerS ? bytes / bytesPerS : null
    }
    at += 8 + size + (size & 1)
  }
  return null
}

/** Whether an MP3 file states its number of frames; without it, a length can only be guessed from the bit rate. */
export async function mp3StatesLength(path: string): Promise<boolean> {
  const head = await readFileHead(path)
  const tagged = head.toString('latin1', 0, 3) === 'ID3' && head.length > 10
  const tagBytes = tagged ? [6, 7, 8, 9].reduce((sum, at) => sum * 128 + ((head[at] as number) & 127), 0) + 10 : 0
  const first = head.subarray(tagBytes, tagBytes + 4096)
  return ['Xing', 'Info', 'VBRI'].some((name) => first.includes(name, 0, 'latin1'))
}

/** Whether the last page of an Ogg file says that its stream ends there (RFC 3533, section 6): a file that was cut off lacks it. */
export async function oggEndsProperly(path: string): Promise<boolean> {
  const file = await fs.promises.open(path)
  try {
    const { size } = await file.stat()
    const length = Math.min(size, OGG_TAIL_BYTES)
    const { buffer } = await file.read(Buffer.alloc(length), 0, length, size - length)
    const at = buffer.lastIndexOf('OggS', undefined, 'latin1')
    return at >= 0 && ((buffer[at + 5] ?? 0) & 4) !== 0
  } finally {
    await file.close()
  }
}

/** Whether a file ends in a stretch of zeros, as one does whose end was never written. */
export async function endsInZeros(path: string): Promise<boolean> {
  const file = await fs.promises.open(path)
  try {
    const { size } = await file.stat()
    if (size < ZERO_TAIL_BYTES) return false
    const { buffer } = await file.read(Buffer.alloc(ZERO_TAIL_BYTES), 0, ZERO_TAIL_BYTES, size - ZERO_TAIL_BYTES)
    return buffer.every((byte) => byte === 0)
  } finally {
    await file.close()
  }
}

const ZERO_TAIL_BYTES = 1024

/** A page has at most 65,307 bytes. */
const OGG_TAIL_BYTES = 128 * 1024

async function readFileHead(path: string): Promise<Buffer> {
  const file = await fs.promises.open(path)
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(HEAD_BYTES), 0, HEAD_BYTES, 0)
    return buffer.subarray(0, bytesRead)
  } finally {
    await file.close()
  }
}
