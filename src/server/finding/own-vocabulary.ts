import fs from 'node:fs'
import type { z } from 'zod'
import type { VocabularyWire } from '../../contract'
import { parsedVocabulary } from '../../core/finding'
import { finding as messages } from '../../messages/server/finding'
import type { Services } from '../context'
import { DomainError } from '../domain-error'
import { OWN_VOCABULARY_MAX_BYTES, ownVocabulary, ownVocabularyPath } from './open-finder'

/** The creator's own lines, how many groups there are with them, and which lines cannot be read. */
export async function loadVocabularyFacts({
  store,
  vocabulary,
}: Pick<Services, 'store' | 'vocabulary'>): Promise<z.infer<typeof VocabularyWire>> {
  const own = ownVocabulary(store.dataDir)
  const { groupCount } = parsedVocabulary(vocabulary()).vocabulary
  return { own, groupCount, problems: parsedVocabulary(own).problems }
}

/** Writes the creator's own lines as a whole, and lets the search learn them. @throws {DomainError} too-large. */
export async function setOwnVocabulary(
  { store, finder, vocabulary }: Pick<Services, 'store' | 'finder' | 'vocabulary'>,
  own: string,
): Promise<void> {
  // A longer file would not be read.
  if (Buffer.byteLength(own) > OWN_VOCABULARY_MAX_BYTES)
    throw new DomainError('too-large', messages.wordsTakeMoreThan200)
  const path = ownVocabularyPath(store.dataDir)
  fs.writeFileSync(`${path}.part`, own)
  fs.renameSync(`${path}.part`, path)
  await finder.learn(vocabulary())
}
