import fs from 'node:fs'
import path from 'node:path'
import { pipeline } from 'node:stream/promises'
import { promisify } from 'node:util'
import yauzl from 'yauzl'
import { isSoundFile } from '../../core/formats/media-endings'
import { folders as messages } from '../../messages/server/folders'
import { DomainError } from '../domain-error'
import { plainFileName } from '../files/file-name'
import { isTable, isText } from './walk'

const MAX_ENTRIES = 20_000
const MAX_DEPTH = 24
/** All that a pack holds, unpacked (20 GB). */
const MAX_BYTES = 20 * 1024 ** 3
/** Sound does not get smaller than this share; what does is made to fill a disk. */
const MIN_PACKED_SHARE = 1 / 500
const SHARE_LOOKED_AT_FROM = 10 * 1024 ** 2
const KIND_MASK = 0o170000
const LINK = 0o120000

/** What was unpacked. */
export interface Unpacked {
  readonly files: number
  /** Entries that are neither sounds nor texts nor tables, or that are links. */
  readonly skipped: number
}

/**
 * Unpacks the sounds, texts and tables of a ZIP file into a folder. Nothing is written outside of the folder, links are passed by, and sizes are bounded
 * before and while they are written.
 *
 * @throws {DomainError} not-a-pack: no ZIP file, damaged, locked, or made to do harm.
 */
export async function unpackZip(file: string, folder: string, signal: AbortSignal): Promise<Unpacked> {
  const zip = await promisify(yauzl.open as OpenZip)(file, { lazyEntries: true, strictFileNames: false }).catch(
    (cause: unknown) => {
      throw notAPack(messages.noZipFileOrDamaged, cause)
    },
  )
  let files = 0
  let skipped = 0
  let bytes = 0
  try {
    for await (const entry of entriesOf(zip)) {
      signal.throwIfAborted()
      if (files + skipped >= MAX_ENTRIES) throw notAPack(messages.itHoldsMoreThanFiles(MAX_ENTRIES))
      const to = targetOf(entry, folder)
      if (to === null || fs.existsSync(to)) {
        if (!entry.fileName.endsWith('/')) skipped++
        continue
      }
      bytes += entry.uncompressedSize
      requireSane(entry, bytes)
      await fs.promises.mkdir(path.dirname(to), { recursive: true })
      await pipeline(await openEntry(zip, entry), fs.createWriteStream(to, { flags: 'wx' }), { signal })
      files++
    }
  } catch (error) {
    if (error instanceof DomainError || signal.aborted || (error as NodeJS.ErrnoException).code === 'ENOSPC')
      throw error
    throw notAPack(messages.damagedOrNamesFilesOutside, error)
  } finally {
    zip.close()
  }
  return { files, skipped }
}

type OpenZip = (
  file: string,
  options: yauzl.Options,
  callback: (error: Error | null, zip: yauzl.ZipFile) => void,
) => void

/** Entries one after the other, each asked for once the one before is done. */
async function* entriesOf(zip: yauzl.ZipFile): AsyncGenerator<yauzl.Entry> {
  for (;;) {
    const entry = await new Promise<yauzl.Entry | null>((resolve, reject) => {
      const done = (act: () => void) => () => {
        zip.removeAllListeners('entry').removeAllListeners('end').removeAllListeners('error')
        act()
      }
      zip.once('entry', (one: yauzl.Entry) => done(() => resolve(one))())
      zip.once(
        'end',
        done(() => resolve(null)),
      )
      zip.once('error', (error: Error) => done(() => reject(error))())
      zip.readEntry()
    })
    if (entry === null) return
    yield entry
  }
}

function openEntry(zip: yauzl.ZipFile, entry: yauzl.Entry): Promise<NodeJS.ReadableStream> {
  return new Promise((resolve, reject) =>
    zip.openReadStream(entry, (error, stream) => (error ? reject(error) : resolve(stream))),
  )
}

/** Where an entry goes; null for what is not taken. */
function targetOf(entry: yauzl.Entry, folder: string): string | null {
  const parts = entry.fileName.split('/')
  const name = parts.at(-1) ?? ''
  const isLink = ((entry.externalFileAttributes >>> 16) & KIND_MASK) === LINK
  const isWanted = isSoundFile(name) || isText(name) || isTable(name)
  const isHidden = parts.some((part) => part.startsWith('.') || part === '__MACOSX')
  if (isLink || !isWanted || isHidden || parts.length > MAX_DEPTH) return null
  return path.join(folder, ...parts.map(plainFileName))
}

function requireSane(entry: yauzl.Entry, bytes: number): void {
  if (entry.isEncrypted()) throw notAPack(messages.lockedByPasswordUnpackYourself)
  if (bytes > MAX_BYTES) throw notAPack(messages.unpackedLargerThan20Gb)
  const { uncompressedSize, compressedSize } = entry
  if (uncompressedSize > SHARE_LOOKED_AT_FROM && compressedSize < uncompressedSize * MIN_PACKED_SHARE)
    throw notAPack(messages.holdsFileThatFillsDisk)
}

function notAPack(why: string, cause?: unknown): DomainError {
  return new DomainError('not-a-pack', messages.thisPackCannotBeUsed(why), { cause })
}
