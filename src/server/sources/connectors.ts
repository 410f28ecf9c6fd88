import type { LibraryId, LibrarySecrets, SignInWith } from '../../contract/library-account'
import type { Connector } from '../ports/connector'
import { heronSlate } from './heron-slate'
import { pellMarrow } from './pell-marrow'
import { skerryview } from './skerryview'
import type { HttpPolicy } from './source-http'
import { tinBarn } from './tin-barn'

/** Where a library is, and what signs us in there. */
export interface LibraryAccess {
  readonly address: string
  readonly secrets: LibrarySecrets
}

/** What every connector needs beside its access. */
export interface ConnectorTools {
  readonly nowMs: () => number
  readonly httpPolicy?: HttpPolicy
}

interface KnownLibrary {
  readonly signInWith: SignInWith
  connect(access: LibraryAccess, tools: ConnectorTools): Connector
}

/** The libraries whose connectors are code. */
export const KNOWN_LIBRARIES: Readonly<Record<LibraryId, KnownLibrary>> = {
  'tin-barn': {
    signInWith: 'key',
    connect: ({ address, secrets }, { httpPolicy }) =>
      tinBarn({ baseUrl: address, apiKey: secrets.key ?? '', ...(httpPolicy && { httpPolicy }) }),
  },
  'heron-slate': {
    signInWith: 'password',
    connect: ({ address, secrets }, { nowMs, httpPolicy }) =>
      heronSlate({
        baseUrl: address,
        client: secrets.user ?? '',
        secret: secrets.password ?? '',
        nowMs,
        ...(httpPolicy && { httpPolicy }),
      }),
  },
  'pell-marrow': {
    signInWith: 'password',
    connect: ({ address, secrets }, { httpPolicy }) =>
      pellMarrow({
        baseUrl: address,
        user: secrets.user ?? '',
        password: secrets.password ?? '',
        ...(httpPolicy && { httpPolicy }),
      }),
  },
  skerryview: {
    signInWith: 'key',
    connect: ({ address, secrets }, { httpPolicy }) =>
      skerryview({ baseUrl: address, key: secrets.key ?? '', ...(httpPolicy && { httpPolicy }) }),
  },
}
