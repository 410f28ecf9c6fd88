import fs from 'node:fs'
import path from 'node:path'
import { XMLParser } from 'fast-xml-parser'
import { parseFile } from 'music-metadata'
import type { TableFacts } from '../../core/formats/sound-table'
import { ucsName } from '../../core/formats/ucs'
import { wavTags } from '../../core/formats/wav-tags'
import { folders as messages } from '../../messages/server/folders'

/** What a sound file says of itself. */
export interface FileFacts {
  readonly title: string
  readonly maker: string
  readonly description: string
  readonly category: string
  readonly words: readonly string[]
  /** Texts of tags that may speak of rights. */
  readonly rightsText: string
}

interface Tags {
  readonly title: string
  readonly maker: string
  readonly description: string
  readonly rights: readonly string[]
}

const MAX_TEXT = 4000
/** A WAV larger than this has only its first part looked at for tags. */
const MAX_WAV_HEAD_BYTES = 256 * 1024 * 1024

/**
 * Reads the tags and the name of a sound file. A file whose tags cannot be read is described by its name.
 *
 * @param relativePath Path below the folder; the names of its folders become words.
 * @param table What a table beside it says of it: somebody wrote that for whoever uses the sounds, so it comes before the tags.
 */
export async function fileFacts(
  file: string,
  relativePath: string,
  table: TableFacts | undefined = undefined,
): Promise<FileFacts> {
  const folders = path
    .dirname(relativePath)
    .split(path.sep)
    .filter((part) => part !== '.' && part !== '')
  const stem = path.basename(relativePath, path.extname(relativePath))
  const ucs = ucsName(stem)
  const tags = await readTags(file, relativePath).catch(
    (): Tags => ({ title: '', maker: '', description: '', rights: [] }),
  )
  return {
    title: plain(table?.title || tags.title || ucs?.fxName || stem.replace(/[_]+/g, ' ')) || messages.untitledSound,
    maker: plain(table?.maker || tags.maker || ucs?.creatorId || ''),
    description: plain(table?.description || tags.description),
    category: plain((table?.category || ucs?.category) ?? folders[0] ?? ''),
    words: [
      ...new Set([
        ...(table?.words ?? []).map(plain),
        ...folders.flatMap(wordsOf),
        ...(ucs ? wordsOf(`${ucs.fxName} ${ucs.userData}`) : []),
      ]),
    ].slice(0, 60),
    rightsText: [...tags.rights, table?.rights ?? ''].map(plain).filter(Boolean).join('\n').slice(0, MAX_TEXT),
  }
}

/** @param name The name that tells the kind of file. */
function readTags(file: string, name: string): Promise<Tags> {
  return /\.(wav|bwf)$/i.test(name) ? waveTags(file) : readCommonTags(file)
}

async function waveTags(file: string): Promise<Tags> {
  const bytes = await readFirstBytes(file)
  const { info, bext, ixml } = wavTags(bytes)
  const document = ixml ? ixmlFacts(ixml) : { note: '', user: '' }
  return {
    title: info.get('INAM') ?? document.note,
    maker: info.get('IART') ?? bext?.originator ?? '',
    description: info.get('ISBJ') ?? bext?.description ?? '',
    rights: [info.get('ICOP'), info.get('ICMT'), document.user, bext?.description].map((text) => text ?? ''),
  }
}

/** The parts of an iXML document that are used. Entities from outside are never resolved. */
function ixmlFacts(ixml: string): { note: string; user: string } {
  const parser = new XMLParser({ processEntities: false, parseTagValue: false })
  const root = (parser.parse(ixml) as { BWFXML?: Record<string, unknown> }).BWFXML ?? {}
  const textOf = (value: unknown): string => (typeof value === 'string' ? value : '')
  return { note: textOf(root.NOTE), user: textOf(root.USER) }
}

async function readCommonTags(file: string): Promise<Tags> {
  const { common, native } = await parseFile(file, { skipCovers: true, duration: false })
  const own = Object.values(native)
    .flat()
    .filter(({ id }) => /licen[cs]e|copyright|rights|WCOP|TCOP/i.test(id))
    .map(({ value }) => (typeof value === 'string' ? value : ''))
  return {
    title: common.title ?? '',
    maker: common.artist ?? '',
    description: common.description?.[0] ?? '',
    rights: [
      common.copyright ?? '',
      common.license ?? '',
      ...(common.comment ?? []).map(({ text }) => text ?? ''),
      ...own,
    ],
  }
}

async function readFirstBytes(file: string): Promise<Uint8Array> {
  const handle = await fs.promises.open(file, 'r')
  try {
    const { size } = await handle.stat()
    const buffer = Buffer.alloc(Math.min(size, MAX_WAV_HEAD_BYTES))
    await handle.read(buffer, 0, buffer.length, 0)
    return buffer
  } finally {
    await handle.close()
  }
}

function wordsOf(text: string): string[] {
  return text.toLowerCase().match(/[\p{L}\p{N}]{2,}/gu) ?? []
}

/** One line or several, without other control characters. */
function plain(text: string): string {
  return text
    .replace(/\p{Cc}/gu, (letter) => (letter === '\n' ? letter : ' '))
    .trim()
    .slice(0, 500)
}
