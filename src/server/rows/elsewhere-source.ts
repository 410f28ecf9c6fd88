import { rows as messages } from '../../messages/server/rows'
import type { Db } from '../database/open'

export const ELSEWHERE_ID = 'elsewhere'

/** Writes the source down that stands for files from anywhere. */
export async function ensureElsewhere(db: Db): Promise<void> {
  await db
    .insertInto('sources')
    .values({
      id: ELSEWHERE_ID,
      name: messages.fromElsewhere,
      about: messages.filesThatCameBySome,
      connected: 1,
      plan: '',
      kind: 'elsewhere',
    })
    .onConflict((conflict) => conflict.doNothing())
    .execute()
}
