import { OwnSpeech } from '../../contract'
import { type Db, nowIso } from '../database/open'
import { appendToLedger } from '../ledger/ledger'
import { findSetting, setSetting } from '../settings'

/** Who said that the voices in all videos are the channel's own; null while nobody did. */
export async function findOwnSpeech(db: Db): Promise<OwnSpeech | null> {
  const text = await findSetting(db, 'own-speech')
  return text === null ? null : OwnSpeech.parse(JSON.parse(text))
}

/** Puts on record that the voices are the channel's own, or takes it back. @param trx A transaction. */
export async function setOwnSpeech(trx: Db, by: string | null): Promise<void> {
  const at = nowIso()
  await setSetting(trx, 'own-speech', by === null ? null : JSON.stringify({ by, at }))
  if (by === null) await appendToLedger(trx, 'answer-undone', { point: 'speech', scope: 'channel' }, at)
  else await appendToLedger(trx, 'answered', { point: 'speech', scope: 'channel', answer: 'own', by }, at)
}
