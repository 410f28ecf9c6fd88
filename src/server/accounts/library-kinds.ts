import { type DescriptionRead, LIBRARY_IDS, type LibraryKind, type SignInWith } from '../../contract/library-account'
import type { LibraryDescription } from '../../contract/library-description'
import { readDescription } from '../described/read-description'
import { KNOWN_LIBRARIES } from '../sources/connectors'
import { descriptionOf, type LibraryAccount, NOWHERE } from './account-connector'
import type { Accounts } from './accounts'

/** The kinds of libraries that can be connected without a description. */
export function libraryKinds({ given, tools }: Accounts): LibraryKind[] {
  return LIBRARY_IDS.map((id) => {
    const { signInWith, connect } = KNOWN_LIBRARIES[id]
    const { name, about } = connect({ address: NOWHERE, secrets: {} }, tools)
    return { id, name, about, signInWith, address: given[id]?.address ?? null }
  })
}

/** What the form of a library has to know of its description. @throws {DomainError} bad-description. */
export function descriptionForForm(text: string): DescriptionRead {
  const { name, about, address, signIn } = readDescription(text)
  return { name, about, address, signInWith: asksFor(signIn) }
}

/** What a connected library asks for. */
export function signInOf(account: LibraryAccount): SignInWith {
  const known = LIBRARY_IDS.find((id) => id === account.connector)
  if (known) return KNOWN_LIBRARIES[known].signInWith
  const description = descriptionOf(account)
  return description ? asksFor(description.signIn) : 'key'
}

/** A sign-in may fill in a key, or a name and a password. */
function asksFor(signIn: LibraryDescription['signIn']): SignInWith {
  if (signIn.kind === 'none') return 'nothing'
  if (signIn.kind === 'basic') return 'password'
  return signIn.kind === 'bearer' && /\{(user|password)\}/.test(JSON.stringify(signIn.request)) ? 'password' : 'key'
}
