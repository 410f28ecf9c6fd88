import type { Readable } from 'node:stream'
import type { LibraryInput, LibraryTried, TriedSound } from '../../contract/library-account'
import type { LibraryDescription } from '../../contract/library-description'
import { accounts as messages } from '../../messages/server/accounts'
import type { Services } from '../context'
import { type DescribedProblem, describedLibrary } from '../described/described-library'
import { readDescription } from '../described/read-description'
import { DomainError } from '../domain-error'
import type { CatalogueSound, Connector } from '../ports/connector'
import { KNOWN_LIBRARIES } from '../sources/connectors'
import { fetchHeldTerms } from '../sources/served-terms'
import { filledSecrets } from './accounts'

const SOUNDS_SHOWN = 5
const TERMS_TRIED = 3
/** So much of a preview is fetched. */
const PREVIEW_BYTES = 200_000
/** A try takes no longer, ms. */
const TRY_MS = 30_000

type Needs = Pick<Services, 'accounts' | 'readText' | 'explain'>

/**
 * Asks a library for its account, its first sounds, their terms and a preview, and tells what was understood, and each thing that was not by its field.
 * Nothing is kept of it.
 *
 * @throws {DomainError} bad-description.
 */
export async function tryLibrary(services: Needs, input: LibraryInput, signal: AbortSignal): Promise<LibraryTried> {
  const problems: { field: string; message: string }[] = []
  const connector = triedConnector(services, input, descriptionIn(input), (problem) => problems.push(problem))
  const within = AbortSignal.any([signal, AbortSignal.timeout(TRY_MS)])
  /** What cannot be had is a problem, and the rest is tried. */
  const tried = async <T>(field: string, ask: () => Promise<T>): Promise<T | null> => {
    try {
      return await ask()
    } catch (error) {
      signal.throwIfAborted()
      const message = within.aborted ? messages.didNotAnswerWithinS(TRY_MS / 1000) : services.explain(error)
      problems.push({ field, message })
      return null
    }
  }
  const account = await tried('account', () => connector.account(within))
  const page = await tried('catalogue', () => connector.page(null, within))
  const sounds = page?.sounds.slice(0, SOUNDS_SHOWN) ?? []
  if (page && sounds.length === 0) problems.push({ field: 'sounds', message: messages.itsCatalogueListsNoSounds })
  const titles = new Map<string, string>()
  for (const key of [...new Set(sounds.map(({ termsKey }) => termsKey))].slice(0, TERMS_TRIED)) {
    const held = await tried('terms', () => fetchHeldTerms(connector, key, services.readText, within))
    if (held) titles.set(key, held.title)
    if (held?.misfitLabel)
      problems.push({
        field: 'terms',
        message: messages.callsTextThatAnotherOne(held.misfitLabel),
      })
  }
  const [first] = sounds
  const preview = first ? await tried('preview', () => previewOf(connector, first, within)) : null
  return {
    plan: account?.plan ?? null,
    planUntil: account?.planUntil ?? null,
    total: page?.total ?? null,
    sounds: sounds.map((sound) => inWords(sound, titles)),
    preview,
    problems: distinct(problems),
  }
}

/** How a library is described; null for one that is known by code. @throws {DomainError} bad-description. */
export function descriptionIn({ of }: LibraryInput): LibraryDescription | null {
  return of.kind === 'described' ? readDescription(of.text) : null
}

/** @param description As it was read of what came in. */
export function triedConnector(
  { accounts }: Pick<Services, 'accounts'>,
  { of, name, address, secrets }: LibraryInput,
  description: LibraryDescription | null,
  onProblem?: (problem: DescribedProblem) => void,
): Connector {
  const given = filledSecrets(secrets)
  if (of.kind === 'known')
    return { ...KNOWN_LIBRARIES[of.id].connect({ address, secrets: given }, accounts.tools), name }
  if (!description) throw new Error('a library that no code knows has to be described')
  return describedLibrary(
    { ...description, name, address },
    { ...accounts.tools, secrets: given, ...(onProblem && { onProblem }) },
  )
}

/** @throws {DomainError} none, when the library is not let in or does not answer. */
export async function requireLetIn(
  connector: Connector,
  explain: Services['explain'],
  signal: AbortSignal,
): Promise<void> {
  try {
    const within = AbortSignal.any([signal, AbortSignal.timeout(TRY_MS)])
    await connector.account(within)
    // Some libraries tell an account to anybody, and their catalogue only to who is let in.
    await connector.page(null, within)
  } catch (cause) {
    signal.throwIfAborted()
    throw new DomainError('none', explain(cause), { cause })
  }
}

async function previewOf(connector: Connector, { previewRef }: CatalogueSound, signal: AbortSignal): Promise<string> {
  const { body, mime } = await connector.preview(previewRef, signal)
  const bytes = await countUpTo(body, PREVIEW_BYTES)
  return `${mime}, ${bytes >= PREVIEW_BYTES ? messages.moreThan : ''}${Math.ceil(bytes / 1000)} kB`
}

async function countUpTo(body: Readable, max: number): Promise<number> {
  let bytes = 0
  try {
    for await (const chunk of body as AsyncIterable<Buffer>) {
      bytes += chunk.length
      if (bytes >= max) break
    }
  } finally {
    body.destroy()
  }
  return bytes
}

function inWords(sound: CatalogueSound, titles: ReadonlyMap<string, string>): TriedSound {
  const { title, maker, category, durationS: lengthS, kind, cost, termsKey } = sound
  return { title, maker, category, lengthS, kind, cost, terms: titles.get(termsKey) ?? null }
}

/** The same is not said for each of a thousand sounds. */
function distinct(problems: LibraryTried['problems']): LibraryTried['problems'] {
  const fields = new Map<string, string>()
  for (const { field, message } of problems) if (!fields.has(field)) fields.set(field, message)
  return [...fields].map(([field, message]) => ({ field, message }))
}
