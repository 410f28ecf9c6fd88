import { application as messages } from '../messages/server/application'
import type { Db } from './database/open'
import { NAME_PATTERN } from './files/file-name'

type Key =
  | 'video-in-hand'
  | 'licensee'
  | 'name-pattern'
  | 'own-speech'
  | 'ledger-report'
  | 'spending-limits'
  | 'doctor-report'
  | 'backup-plan'
  | 'reaction'
  | 'levels-to-voice'
  | 'last-backup'
  | 'prepared-steps'

export async function findSetting(db: Db, key: Key): Promise<string | null> {
  const row = await db.selectFrom('settings').select('value').where('key', '=', key).executeTakeFirst()
  return row?.value ?? null
}

/** Sets a setting; null removes it. */
export async function setSetting(db: Db, key: Key, value: string | null): Promise<void> {
  if (value === null) await db.deleteFrom('settings').where('key', '=', key).execute()
  else
    await db
      .insertInto('settings')
      .values({ key, value })
      .onConflict((conflict) => conflict.column('key').doUpdateSet({ value }))
      .execute()
}

/** Who holds the licences; "you" until a name is given. */
export async function getLicensee(db: Db): Promise<string> {
  return (await findSetting(db, 'licensee')) ?? messages.ownerThisGoodThud
}

/** How copies are named. */
export async function getNamePattern(db: Db): Promise<string> {
  return (await findSetting(db, 'name-pattern')) ?? NAME_PATTERN
}
