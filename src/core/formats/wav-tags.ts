import { formats as messages } from '../wording/formats'
import { escapedMarkup } from './markup'
import { chunkBytes, contentsOf, type RiffChunk, riffChunks, text, withChunks } from './riff'

/** What a broadcast WAVE says of itself. */
export interface BroadcastExtension {
  readonly description: string
  readonly originator: string
  readonly originatorReference: string
  /** YYYY-MM-DD, or empty. */
  readonly originationDate: string
}

/** Tags of a WAVE file. */
export interface WavTags {
  /** RIFF INFO entries by their four letters: INAM, IART, ICOP, ICMT … */
  readonly info: ReadonlyMap<string, string>
  readonly bext: BroadcastExtension | null
  /** The iXML document as it stands, or null. */
  readonly ixml: string | null
}

/** What is written into a WAVE file. */
export interface WavRights {
  readonly title: string
  readonly maker: string
  readonly source: string
  readonly copyright: string
  readonly comment: string
  readonly licenceUrl: string | null
  readonly creditLine: string | null
  readonly acquisitionId: string
  /** YYYY-MM-DD. */
  readonly acquiredOn: string
}

const MAX_TEXT = 64 * 1024
/** Sizes of the fixed part. Source: EBU Tech 3285, version 2. */
const BEXT = { description: 256, originator: 32, reference: 32, date: 10, time: 8, fixed: 602 }

/** Reads INFO, bext and iXML. @throws {RiffError} not-wave. */
export function wavTags(bytes: Uint8Array): WavTags {
  const info = new Map<string, string>()
  let bext: BroadcastExtension | null = null
  let ixml: string | null = null
  for (const chunk of riffChunks(bytes)) {
    const contents = contentsOf(bytes, chunk)
    if (isInfo(chunk, contents)) for (const [id, value] of infoEntries(contents)) info.set(id, value)
    if (chunk.id === 'bext' && chunk.size >= BEXT.fixed) bext = readBext(contents)
    if (chunk.id === 'iXML') ixml = decoded(contents.subarray(0, MAX_TEXT))
  }
  return { info, bext, ixml }
}

/**
 * Writes rights into a WAVE file: INFO entries are joined with those that are there, a bext that is there keeps what it says and
 * gets only what it lacks, an iXML document that is there is left alone. Samples and all other chunks stay bit for bit.
 *
 * @throws {RiffError} not-wave, too-large.
 */
export function withWavRights(bytes: Uint8Array, rights: WavRights): Uint8Array {
  const chunks = riffChunks(bytes)
  const bext = chunks.find(({ id }) => id === 'bext')
  const ixml = chunks.some(({ id }) => id === 'iXML')
  const info = new Map([...wavTags(bytes).info, ...infoOf(rights)])
  return withChunks(bytes, (chunk, contents) => isInfo(chunk, contents) || chunk.id === 'bext', [
    { id: 'LIST', contents: infoList(info) },
    { id: 'bext', contents: bextOf(rights, bext ? contentsOf(bytes, bext) : null) },
    ...(ixml ? [] : [{ id: 'iXML', contents: encoded(ixmlOf(rights)) }]),
  ])
}

function isInfo({ id, size }: RiffChunk, contents: Uint8Array): boolean {
  return id === 'LIST' && size >= 4 && text(contents, 0, 4) === 'INFO'
}

function* infoEntries(list: Uint8Array): Generator<[string, string]> {
  const view = new DataView(list.buffer, list.byteOffset, list.byteLength)
  for (let at = 4; at + 8 <= list.length; ) {
    const size = Math.min(view.getUint32(at + 4, true), list.length - at - 8)
    const value = decoded(list.subarray(at + 8, at + 8 + Math.min(size, MAX_TEXT)))
    if (value !== '') yield [text(list, at, 4), value]
    at += 8 + size + (size & 1)
  }
}

function infoOf(rights: WavRights): [string, string][] {
  const entries: [string, string][] = [
    ['INAM', rights.title],
    ['IART', rights.maker],
    ['ISRC', rights.source],
    ['ICOP', rights.copyright],
    ['ICMT', rights.comment],
    ['ICRD', rights.acquiredOn],
  ]
  return entries.filter(([, value]) => value !== '')
}

function infoList(info: ReadonlyMap<string, string>): Uint8Array {
  const parts = [...info].map(([id, value]) => {
    // Texts end with a zero; the next entry starts at an even place.
    const contents = encoded(`${ascii(value)}\0`)
    return chunkBytes(id, contents.length % 2 === 0 ? contents : encoded(`${ascii(value)}\0\0`))
  })
  const out = new Uint8Array(4 + parts.reduce((sum, part) => sum + part.length, 0))
  out.set(encoded('INFO'))
  let at = 4
  for (const part of parts) {
    out.set(part, at)
    at += part.length
  }
  return out
}

function readBext(contents: Uint8Array): BroadcastExtension {
  let at = 0
  const take = (length: number): string => {
    at += length
    return decoded(contents.subarray(at - length, at))
  }
  return {
    description: take(BEXT.description),
    originator: take(BEXT.originator),
    originatorReference: take(BEXT.reference),
    originationDate: take(BEXT.date),
  }
}

function bextOf(rights: WavRights, before: Uint8Array | null): Uint8Array {
  const out = new Uint8Array(Math.max(BEXT.fixed, before?.length ?? 0))
  if (before) out.set(before)
  else new DataView(out.buffer).setUint16(346, 1, true)
  let at = 0
  const fill = (length: number, value: string): void => {
    if (out[at] === 0) out.set(encoded(ascii(value)).subarray(0, length), at)
    at += length
  }
  fill(BEXT.description, `${rights.title}${rights.maker ? ` by ${rights.maker}` : ''}. ${rights.comment}`)
  fill(BEXT.originator, rights.source)
  fill(BEXT.reference, rights.acquisitionId)
  fill(BEXT.date, rights.acquiredOn)
  fill(BEXT.time, '00:00:00')
  return out
}

/** Names of elements after the iXML specification; what it has no element for is in USER. */
function ixmlOf(rights: WavRights): string {
  const element = (name: string, value: string): string => `<${name}>${escapedMarkup(value)}</${name}>`
  const user = [
    rights.copyright,
    rights.licenceUrl && messages.licence(rights.licenceUrl),
    rights.creditLine && messages.credit(rights.creditLine),
    messages.acquisition(rights.acquisitionId),
  ]
  return [
    '<?xml version="1.0" encoding="UTF-8"?>',
    '<BWFXML>',
    element('IXML_VERSION', '2.10'),
    element('PROJECT', rights.source),
    element('NOTE', rights.title),
    element('USER', user.filter(Boolean).join('\n')),
    '</BWFXML>',
  ].join('\n')
}

/** INFO and bext hold ASCII: letters lose their marks, quotes and dashes become plain, all else a question mark. */
function ascii(value: string): string {
  return value
    .replace(/©/g, '(c)')
    .replace(/[“”„«»]/g, '"')
    .replace(/[‘’]/g, "'")
    .replace(/[‐-―]/g, '-')
    .replace(/…/g, '...')
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .replace(/[^\x20-\x7e\n]/g, '?')
}

function encoded(value: string): Uint8Array {
  const utf8 = unescape(encodeURIComponent(value))
  return Uint8Array.from(utf8, (letter) => letter.charCodeAt(0))
}

/** Text up to the first zero; UTF-8 where it is that, else one letter a byte. */
function decoded(bytes: Uint8Array): string {
  const end = bytes.indexOf(0)
  const raw = Array.from(end < 0 ? bytes : bytes.subarray(0, end), (byte) => String.fromCharCode(byte)).join('')
  try {
    return decodeURIComponent(escape(raw)).trim()
  } catch {
    return raw.trim()
  }
}
