import { z } from 'zod'
import type { LibrarySecrets } from '../../contract/library-account'
import type { LibraryDescription } from '../../contract/library-description'
import { described as messages } from '../../messages/server/described'
import { SourceError } from '../ports/connector'
import type { SourceHttp } from '../sources/source-http'
import { filledRequest, filledText } from './fill'
import type { Picker } from './pick'

/** What a request carries to be let in. */
export interface SignedIn {
  readonly headers: Readonly<Record<string, string>>
  readonly query: Readonly<Record<string, string>>
}

const NOTHING: SignedIn = { headers: {}, query: {} }
/** A token is renewed this long before it expires, ms. */
const RENEW_BEFORE_MS = 5_000

interface Tools {
  readonly nowMs: () => number
  readonly http: SourceHttp
  readonly pick: Picker
}

/** Signs requests of one library, and again with a fresh token where the one at hand is not taken any more. */
export class DescribedSignIn {
  private token: { readonly value: string; readonly untilMs: number } | null = null

  constructor(
    private readonly libraryName: string,
    private readonly signIn: LibraryDescription['signIn'],
    private readonly secrets: LibrarySecrets,
    private readonly tools: Tools,
  ) {}

  /** @throws {SourceError} */
  async asSignedIn<T>(signal: AbortSignal, ask: (signed: SignedIn) => Promise<T>): Promise<T> {
    const { token } = this
    try {
      return await ask(await this.signed(signal))
    } catch (error) {
      // Only a token that was at hand before may have become old.
      if (!(error instanceof SourceError) || error.code !== 'refused' || token === null) throw error
      if (this.token === token) this.token = null
      return ask(await this.signed(signal))
    }
  }

  private async signed(signal: AbortSignal): Promise<SignedIn> {
    const { signIn } = this
    switch (signIn.kind) {
      case 'none':
        return NOTHING
      case 'header':
        return { ...NOTHING, headers: { [signIn.header]: this.filled(signIn.value, ['key']) } }
      case 'query':
        return { ...NOTHING, query: { [signIn.parameter]: this.filled('{key}', ['key']) } }
      case 'basic': {
        const credentials = Buffer.from(this.filled('{user}:{password}', ['user', 'password'])).toString('base64')
        return { ...NOTHING, headers: { Authorization: `Basic ${credentials}` } }
      }
      case 'bearer':
        return { ...NOTHING, headers: { Authorization: `Bearer ${await this.freshToken(signIn, signal)}` } }
    }
  }

  private async freshToken(
    { request, token, lifetimeS }: Extract<LibraryDescription['signIn'], { kind: 'bearer' }>,
    signal: AbortSignal,
  ): Promise<string> {
    const { http, pick, nowMs } = this.tools
    if (this.token && this.token.untilMs - RENEW_BEFORE_MS >= nowMs()) return this.token.value
    const values = this.given(['key', 'user', 'password'])
    const { path, init } = filledRequest(request, values, this.libraryName)
    const value = await http.json(path, z.unknown(), { ...init, signal })
    const lifetime = pick.number(lifetimeS, value, 'lifetimeS') ?? 0
    this.token = { value: pick.required(token, value, 'token', 8000), untilMs: nowMs() + lifetime * 1000 }
    return this.token.value
  }

  private filled(template: string, names: readonly (keyof LibrarySecrets)[]): string {
    return filledText(template, this.given(names), this.libraryName)
  }

  /** @throws {SourceError} refused, while something is missing. */
  private given(names: readonly (keyof LibrarySecrets)[]): Record<string, string> {
    const known = Object.fromEntries(names.flatMap((name) => (this.secrets[name] ? [[name, this.secrets[name]]] : [])))
    const missing = this.signIn.kind === 'bearer' ? [] : names.filter((name) => !known[name])
    if (missing.length > 0)
      throw new SourceError(
        'refused',
        messages.asksForEnterInSources(
          this.libraryName,
          missing.map((name) => (name === 'user' ? messages.aName : `a ${name}`)).join(' and '),
        ),
      )
    return known
  }
}
