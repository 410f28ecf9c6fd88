import type { ZipFile } from 'yazl'
import { score as messages } from '../../messages/server/score'
import type { Services } from '../context'
import { archiveNames } from '../copies/archive-names'
import { isOneOf } from '../database/is-one-of'
import { todayIso } from '../database/open'
import { csvOf } from '../papers/export-papers'
import { papersOfSounds } from '../papers/papers-list'

/**
 * Puts the papers of some sounds into an archive: a table of them, the text of their terms as it was when each was acquired, and the receipts.
 *
 * @returns What should be there and is not, as sentences.
 */
export async function addPapers(
  { db, store }: Pick<Services, 'db' | 'store'>,
  archive: ZipFile,
  soundIds: readonly number[],
): Promise<string[]> {
  const listed = await papersOfSounds({ db }, soundIds, todayIso())
  const filed = listed.flatMap((one) => (one.filed ? [one.filed] : []))
  archive.addBuffer(Buffer.from(csvOf(listed.map(({ row }) => row))), 'papers/papers.csv')
  const terms = await db
    .selectFrom('terms')
    .select(['title', 'version', 'text', 'sha256', 'url'])
    .where(
      isOneOf(
        'id',
        filed.map(({ termsId }) => termsId),
      ),
    )
    .orderBy('id')
    .execute()
  const termsName = archiveNames()
  for (const { title, version, text, sha256, url } of terms) {
    const head = [title, version, url, messages.sha256OfTheText(sha256)].filter(Boolean).join('\n')
    archive.addBuffer(Buffer.from(`${head}\n\n${text}`), `papers/terms/${termsName(`${title} ${version}.txt`)}`)
  }
  const receipts = await db
    .selectFrom('evidence')
    .select(['file_name', 'sha256'])
    .where(
      isOneOf(
        'grant_id',
        filed.map(({ grantId }) => grantId),
      ),
    )
    .orderBy('id')
    .execute()
  const receiptName = archiveNames()
  const packed = new Set<string>()
  const missing: string[] = []
  for (const { file_name, sha256 } of receipts) {
    if (packed.has(sha256)) continue
    packed.add(sha256)
    if (store.has(sha256)) archive.addFile(store.blobPath(sha256), `papers/receipts/${receiptName(file_name)}`)
    else missing.push(messages.receiptNotAmongFilesNot(file_name))
  }
  return missing
}
