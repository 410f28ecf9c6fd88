import { LIBRARY_IDS, type LibraryId, type LibrarySecrets } from '../../contract/library-account'
import { LibraryDescription } from '../../contract/library-description'
import { accounts as messages } from '../../messages/server/accounts'
import { describedLibrary } from '../described/described-library'
import { type Connector, SourceError } from '../ports/connector'
import { type ConnectorTools, KNOWN_LIBRARIES, type LibraryAccess } from '../sources/connectors'

/** An account at a library, as it is on file. */
export interface LibraryAccount {
  readonly id: string
  readonly name: string
  readonly about: string
  /** A library that is known by code, or 'described'. */
  readonly connector: string | null
  readonly address: string | null
  readonly description_json: string | null
  readonly paused_at: string | null
}

/**
 * What asks the library of an account. One that cannot be asked says why, each time that it is asked; how its terms are read is known all the same, so
 * that what was taken under them does not lose its reading.
 */
export function accountConnector(
  account: LibraryAccount,
  secrets: LibrarySecrets | null,
  tools: ConnectorTools,
  /** Why there is no key, where that is known. */
  whyNoKey = messages.thereNoKeyForGive(account.name),
): Connector {
  const { id, name, about, address, paused_at } = account
  const made = { ...madeFor(account, { address: address ?? NOWHERE, secrets: secrets ?? {} }, tools), id, name, about }
  if (paused_at !== null) return silent(made, 'down', messages.pausedResumeInSources(name))
  if (address === null) return silent(made, 'refused', messages.notOnFileWhereConnect(name))
  if (secrets === null) return silent(made, 'refused', whyNoKey)
  return made
}

/** An address that nothing is asked of: a connector tells its name and its readings without one. */
export const NOWHERE = 'http://127.0.0.1:9'

function madeFor(account: LibraryAccount, access: LibraryAccess, tools: ConnectorTools): Connector {
  const known = LIBRARY_IDS.find((one): one is LibraryId => one === account.connector)
  if (known) return KNOWN_LIBRARIES[known].connect(access, tools)
  const description = descriptionOf(account)
  if (description)
    return describedLibrary({ ...description, address: access.address }, { ...tools, secrets: access.secrets })
  return silent(account, 'refused', messages.descriptionNotOneThatThis(account.name))
}

/** How a library is described; null where it is not, or no longer as this version understands it. */
export function descriptionOf({
  description_json,
}: Pick<LibraryAccount, 'description_json'>): LibraryDescription | null {
  return LibraryDescription.safeParse(jsonOf(description_json)).data ?? null
}

/** A library that is not asked for anything. */
function silent(
  made: Pick<Connector, 'id' | 'name' | 'about' | 'readings'>,
  code: SourceError['code'],
  why: string,
): Connector {
  const { id, name, about, readings } = made
  const refuse = (): Promise<never> => Promise.reject(new SourceError(code, why))
  return {
    ...{ id, name, about, account: refuse, page: refuse, terms: refuse, preview: refuse, order: refuse },
    ...(readings && { readings }),
  }
}

function jsonOf(text: string | null): unknown {
  try {
    return JSON.parse(text ?? 'null')
  } catch {
    return null
  }
}
