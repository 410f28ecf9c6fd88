import { COMPONENTS } from './patch-shape'
import { LOOKUP_SPEEDS, type TemplateRows } from './sound-templates'

/** Raised whenever the templates of a sound become others, so that stored ones are made anew. */
const TEMPLATES_VERSION = 1
const MAGIC = 0x54485447
/** Words of 32 bits: magic, version, components, templates. */
const HEADER_WORDS = 4

/** Templates as bytes: a header, then centres, speeds and values. */
export function encodedTemplates({ values, centres, speeds }: TemplateRows): Uint8Array {
  const count = speeds.length
  const bytes = new Uint8Array(4 * HEADER_WORDS + 5 * count + values.length)
  const view = new DataView(bytes.buffer)
  for (const [word, value] of [MAGIC, TEMPLATES_VERSION, COMPONENTS, count].entries())
    view.setUint32(4 * word, value, true)
  centres.forEach((centre, at) => {
    view.setUint32(4 * (HEADER_WORDS + at), centre, true)
  })
  bytes.set(speeds, 4 * (HEADER_WORDS + count))
  bytes.set(new Uint8Array(values.buffer, values.byteOffset, values.length), 4 * (HEADER_WORDS + count) + count)
  return bytes
}

/** Reads stored templates. @returns Null for what is damaged or of another version: it can be made again from the sound. */
export function decodedTemplates(bytes: Uint8Array): TemplateRows | null {
  if (bytes.length < 4 * HEADER_WORDS) return null
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const [magic, version, components, count] = [0, 1, 2, 3].map((word) => view.getUint32(4 * word, true))
  if (magic !== MAGIC || version !== TEMPLATES_VERSION || components !== COMPONENTS || count === undefined) return null
  const speedsAt = 4 * (HEADER_WORDS + count)
  if (bytes.length !== speedsAt + count + count * COMPONENTS) return null
  const speeds = Uint8Array.from(bytes.subarray(speedsAt, speedsAt + count))
  if (speeds.some((speed) => speed >= LOOKUP_SPEEDS.length)) return null
  return {
    values: new Int8Array(bytes.buffer, bytes.byteOffset + speedsAt + count, count * COMPONENTS).slice(),
    centres: Uint32Array.from({ length: count }, (_, at) => view.getUint32(4 * (HEADER_WORDS + at), true)),
    speeds,
  }
}
