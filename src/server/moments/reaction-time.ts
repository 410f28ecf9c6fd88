import { ReactionSchema } from '../../contract'
import { NO_REACTION, type Reaction } from '../../core/moments'
import type { Db } from '../database/open'
import { findSetting, setSetting } from '../settings'

export async function loadReaction(db: Db): Promise<Reaction> {
  const saved = await findSetting(db, 'reaction')
  return saved === null ? NO_REACTION : ReactionSchema.parse(JSON.parse(saved))
}

export async function saveReaction(db: Db, reaction: Reaction): Promise<Reaction> {
  await setSetting(db, 'reaction', JSON.stringify(reaction))
  return reaction
}
