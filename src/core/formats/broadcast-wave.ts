/** What stands before the samples of a mix. */
export interface BroadcastWaveOptions {
  readonly sampleRateHz: number
  readonly channelCount: number
  readonly lengthFrames: number
  /** What it is, up to 256 ASCII letters. */
  readonly description: string
  /** "2026-11-28". */
  readonly originationDate: string
  /** "21:58:04". */
  readonly originationTime: string
  /** Frame of the video that the first sample stands at. */
  readonly timeReferenceFrames: number
  readonly integratedLufs: number | null
  readonly truePeakDbtp: number | null
  /** An iXML document, ASCII. */
  readonly ixml: string
}

const BITS = 24
const BYTES_EACH = BITS / 8
const BEXT_BYTES = 602
const DS64_BYTES = 28
/** A RIFF file is no longer than its 32-bit sizes can say. */
const RIFF_MAX = 2 ** 32 - 1
/** Loudness that is not known. Source: EBU Tech 3285, supplement on loudness, section 2. */
const NO_LOUDNESS = 0x7fff

/**
 * The bytes of a Broadcast Wave file of 24 bits before its samples; RF64 where it is longer than RIFF can say.
 *
 * Sources: EBU Tech 3285 version 2 (bext), EBU Tech 3306 (RF64).
 */
export function broadcastWaveHeader(options: BroadcastWaveOptions): Uint8Array {
  const { sampleRateHz, channelCount, lengthFrames, ixml } = options
  const dataBytes = lengthFrames * channelCount * BYTES_EACH
  const ixmlBytes = ixml.length + (ixml.length & 1)
  const length = 12 + 8 + DS64_BYTES + 8 + 16 + 8 + BEXT_BYTES + 8 + ixmlBytes + 8
  const riffBytes = length - 8 + dataBytes + (dataBytes & 1)
  const isLong = riffBytes > RIFF_MAX
  const out = new Uint8Array(length)
  const view = new DataView(out.buffer)
  let at = 0
  const tag = (text: string): void => {
    for (let i = 0; i < text.length; i++) out[at + i] = text.charCodeAt(i)
    at += text.length
  }
  const size = (bytes: number): void => {
    view.setUint32(at, bytes, true)
    at += 4
  }
  tag(isLong ? 'RF64' : 'RIFF')
  size(isLong ? RIFF_MAX : riffBytes)
  tag('WAVE')
  tag(isLong ? 'ds64' : 'JUNK')
  size(DS64_BYTES)
  if (isLong) {
    view.setBigUint64(at, BigInt(riffBytes), true)
    view.setBigUint64(at + 8, BigInt(dataBytes), true)
    view.setBigUint64(at + 16, BigInt(lengthFrames), true)
  }
  at += DS64_BYTES
  tag('bext')
  size(BEXT_BYTES)
  putBext(view, at, options)
  at += BEXT_BYTES
  tag('iXML')
  size(ixml.length)
  tag(ascii(ixml))
  at += ixml.length & 1
  tag('fmt ')
  size(16)
  view.setUint16(at, 1, true)
  view.setUint16(at + 2, channelCount, true)
  view.setUint32(at + 4, sampleRateHz, true)
  view.setUint32(at + 8, sampleRateHz * channelCount * BYTES_EACH, true)
  view.setUint16(at + 12, channelCount * BYTES_EACH, true)
  view.setUint16(at + 14, BITS, true)
  at += 16
  tag('data')
  size(isLong ? RIFF_MAX : dataBytes)
  return out
}

function putBext(view: DataView, at: number, options: BroadcastWaveOptions): void {
  const text = (offset: number, room: number, value: string): void => {
    const letters = ascii(value).slice(0, room)
    for (let i = 0; i < letters.length; i++) view.setUint8(at + offset + i, letters.charCodeAt(i))
  }
  const hundredths = (value: number | null): number => (value === null ? NO_LOUDNESS : Math.round(100 * value))
  text(0, 256, options.description)
  text(256, 32, 'Good Thud')
  text(320, 10, options.originationDate)
  text(330, 8, options.originationTime)
  view.setBigUint64(at + 338, BigInt(options.timeReferenceFrames), true)
  view.setUint16(at + 346, 2, true)
  view.setInt16(at + 412, hundredths(options.integratedLufs), true)
  view.setInt16(at + 414, NO_LOUDNESS, true)
  view.setInt16(at + 416, hundredths(options.truePeakDbtp), true)
  view.setInt16(at + 418, NO_LOUDNESS, true)
  view.setInt16(at + 420, NO_LOUDNESS, true)
}

/** Letters that are not ASCII as "?". */
function ascii(text: string): string {
  return text.replace(/[^\t\n\r\x20-\x7e]/g, '?')
}

const FULL = 2 ** (BITS - 1)

/** Samples as 24-bit integers, one frame after the other; beyond full scale they are clipped. @param channels Equally long. */
export function pcm24(channels: readonly Float32Array[]): Uint8Array {
  const frames = channels[0]?.length ?? 0
  const out = new Uint8Array(frames * channels.length * BYTES_EACH)
  let at = 0
  for (let frame = 0; frame < frames; frame++) {
    for (const channel of channels) {
      const value = Math.max(-FULL, Math.min(FULL - 1, Math.round((channel[frame] as number) * FULL)))
      out[at++] = value & 255
      out[at++] = (value >> 8) & 255
      out[at++] = (value >> 16) & 255
    }
  }
  return out
}
