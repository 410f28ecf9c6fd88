import type { LicenceReading, TextPart } from '../../core/rights'
import { terms as messages } from '../../messages/server/terms'
import { DomainError } from '../domain-error'
import { type Pool, runTask } from '../workers/pool'
import type { CompareTextsTask, ReadTextTask } from '../workers/tasks'

/** Reads what a text says of rights. @throws {DomainError} unreadable-text. */
export type ReadText = (text: string) => Promise<LicenceReading>

/** A text that takes longer than this to read is none that a person wrote, ms. */
const READ_MAX_MS = 20_000
/** Texts whose readings are remembered: the same text is often asked for twice in a row. */
const REMEMBERED_MAX = 8

/** Reads texts from outside in a worker thread, which is ended when it takes too long. */
export function textReader(pool: Pool, maxMs: number = READ_MAX_MS): ReadText {
  const remembered = new Map<string, Promise<LicenceReading>>()
  return (text) => {
    const known = remembered.get(text)
    if (known) return known
    const reading = runBounded<LicenceReading>(pool, 'readLicenceText', { text } satisfies ReadTextTask, maxMs)
    remembered.set(text, reading)
    // What failed once is tried again.
    reading.catch(() => remembered.delete(text))
    const [oldest] = remembered.keys()
    if (remembered.size > REMEMBERED_MAX && oldest !== undefined) remembered.delete(oldest)
    return reading
  }
}

/** What a text says of rights; one that cannot be read says nothing, and stays open until somebody has looked at it. */
export async function readingOrOpen(text: string, readText: ReadText): Promise<LicenceReading> {
  try {
    return await readText(text)
  } catch (error) {
    if (!(error instanceof DomainError)) throw error
    const open = [{ quote: messages.thisTextOnTermsCould(text.slice(0, QUOTE_LENGTH)), keys: [] }]
    return { licences: [], like: null, clauses: [], open }
  }
}

const QUOTE_LENGTH = 120

/** What differs between two versions of a text; null where comparing them takes too long. */
export function differencesInWorker(
  pool: Pool,
  texts: CompareTextsTask,
  maxMs: number = READ_MAX_MS,
): Promise<readonly TextPart[] | null> {
  return runBounded<readonly TextPart[]>(pool, 'compareTexts', texts, maxMs).catch((error: unknown) => {
    if (error instanceof DomainError) return null
    throw error
  })
}

async function runBounded<T>(pool: Pool, name: string, task: object, maxMs: number): Promise<T> {
  const controller = new AbortController()
  const timer = setTimeout(() => controller.abort(), maxMs)
  try {
    return await runTask<T>(pool, name, task, { signal: controller.signal })
  } catch (cause) {
    if (!controller.signal.aborted) throw cause
    throw new DomainError('unreadable-text', messages.thisTextTakesTooLong, { cause })
  } finally {
    clearTimeout(timer)
  }
}
