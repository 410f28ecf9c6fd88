import fs from 'node:fs'
import type { Readable } from 'node:stream'
import { papers as messages } from '../../messages/server/papers'
import type { Services } from '../context'
import { type Db, nowIso } from '../database/db'
import { DomainError, notFound } from '../domain-error'
import { ShortWriteError } from '../files/disk-full'
import { plainFileName } from '../files/file-name'
import { type StoredFile, TooLargeError } from '../files/store'
import { appendToLedger } from '../ledger/ledger'

const HEAD_BYTES = 4096
const MAX_EVIDENCE_BYTES = 25 * 1024 * 1024

/** Kinds of evidence by the first bytes of the file, not by what its name says. */
const KINDS: readonly (readonly [string, RegExp])[] = [
  ['application/pdf', /^%PDF-/],
  // biome-ignore lint/suspicious/noControlCharactersInRegex: the signature of PNG holds some
  ['image/png', /^\x89PNG\r\n\x1a\n/],
  ['image/jpeg', /^\xff\xd8\xff/],
  ['image/webp', /^RIFF[\s\S]{4}WEBP/],
  ['image/gif', /^GIF8[79]a/],
]

/** Writes evidence down for a grant, with its entry in the ledger. The same file is attached once. @param db A transaction. */
export async function storeEvidence(
  db: Db,
  grantId: number,
  { sha256, sizeBytes, mime, fileName }: StoredFile & { mime: string; fileName: string },
): Promise<void> {
  const written = await db
    .insertInto('evidence')
    .values({ grant_id: grantId, sha256, size_bytes: sizeBytes, mime, file_name: fileName, added_at: nowIso() })
    .onConflict((conflict) => conflict.doNothing())
    .returning('id')
    .executeTakeFirst()
  if (written) await appendToLedger(db, 'receipt', { grantId, fileName, mime, sha256, sizeBytes })
}

/**
 * Takes in a file that was dropped on papers: PDF, PNG, JPEG, WebP, GIF, mail or plain text, up to 25 MB.
 *
 * @throws {DomainError} not-found, too-large, not-evidence. Nothing is stored then.
 */
export async function attachEvidence(
  { db, store }: Pick<Services, 'db' | 'store'>,
  grantId: number,
  { name, body, signal }: { name: string; body: Readable; signal: AbortSignal },
): Promise<void> {
  const grant = await db.selectFrom('grants').select('id').where('id', '=', grantId).executeTakeFirst()
  if (!grant) throw notFound(messages.thesePapers)
  const temporary = store.temporaryPath('evidence')
  try {
    const written = await store
      .writeTemporary(temporary, body, { maxBytes: MAX_EVIDENCE_BYTES, signal })
      .catch((error: unknown) => {
        if (error instanceof TooLargeError) throw new DomainError('too-large', messages.evidenceMayHaveUp25)
        throw error
      })
    if (written.sizeBytes === 0) throw new DomainError('empty-file', messages.thisFileEmptyAttachOne)
    const mime = mimeOf(await readHead(temporary), name)
    if (!mime) throw new DomainError('not-evidence', messages.attachPdfPicturePngJpeg)
    // What is refused never comes into the store.
    const stored = await store.commitTemporaryFile(temporary)
    if (stored.sha256 !== written.sha256) throw new ShortWriteError(stored.sizeBytes, written.sizeBytes)
    await db
      .transaction()
      .execute((trx) => storeEvidence(trx, grantId, { ...stored, mime, fileName: plainFileName(name) }))
  } finally {
    await store.removeTemporary(temporary)
  }
}

/** First bytes of a stored file. */
async function readHead(file: string): Promise<Buffer> {
  const handle = await fs.promises.open(file, 'r')
  try {
    const head = Buffer.alloc(HEAD_BYTES)
    const { bytesRead } = await handle.read(head, 0, HEAD_BYTES, 0)
    return head.subarray(0, bytesRead)
  } finally {
    await handle.close()
  }
}

function mimeOf(head: Buffer, name: string): string | null {
  const start = head.subarray(0, 32).toString('latin1')
  const kind = KINDS.find(([, signature]) => signature.test(start))?.[0]
  if (kind) return kind
  if (!/\.(txt|eml|md)$/i.test(name) || head.includes(0)) return null
  return /\.eml$/i.test(name) ? 'message/rfc822' : 'text/plain'
}
