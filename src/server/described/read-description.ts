import { compile } from '@jmespath-community/jmespath'
import { parse as parseYaml } from 'yaml'
import { MAX_DESCRIPTION_BYTES } from '../../contract/library-account'
import { type DescribedValue, LibraryDescription } from '../../contract/library-description'
import { described as messages } from '../../messages/server/described'
import { DomainError } from '../domain-error'

/**
 * Reads the description of a library, in YAML or JSON, and tries every expression of it.
 *
 * @throws {DomainError} bad-description, with every problem by its place.
 */
export function readDescription(text: string): LibraryDescription {
  if (Buffer.byteLength(text) > MAX_DESCRIPTION_BYTES) throw bad([messages.largerThan24Kb])
  let data: unknown
  try {
    data = parseYaml(text, { maxAliasCount: 20 })
  } catch (cause) {
    throw bad([(cause as Error).message.split('\n')[0] ?? messages.neitherYamlNorJson])
  }
  const parsed = LibraryDescription.safeParse(data)
  if (!parsed.success)
    throw bad(parsed.error.issues.map(({ path, message }) => `${path.join('.') || messages.theWhole}: ${message}`))
  const problems = expressionsOf(parsed.data).flatMap(([place, expression]) => {
    try {
      compile(expression)
      return []
    } catch (cause) {
      return [`${place}: “${expression}” is no JMESPath expression (${(cause as Error).message})`]
    }
  })
  if (problems.length > 0) throw bad(problems)
  return parsed.data
}

function bad(problems: readonly string[]): DomainError {
  return new DomainError('bad-description', messages.thisDescriptionCannotBeUsed(problems.join('. ')))
}

/** Every expression with its place. */
function expressionsOf(description: LibraryDescription): [place: string, expression: string][] {
  const found: [string, string][] = []
  const add = (place: string, value: DescribedValue | undefined): void => {
    if (value !== undefined) found.push([place, typeof value === 'string' ? value : value.from])
  }
  const { signIn, account, catalogue, search, sound, terms, preview, order } = description
  if (signIn.kind === 'bearer') {
    add('signIn.token', signIn.token)
    add('signIn.lifetimeS', signIn.lifetimeS)
  }
  if ('path' in account) for (const key of ['plan', 'from', 'until'] as const) add(`account.${key}`, account[key])
  for (const [place, list] of [
    ['catalogue', catalogue],
    ['search', search],
  ] as const) {
    add(`${place}.sounds`, list?.sounds)
    add(`${place}.total`, list?.total)
    if (list?.paging.kind === 'cursor') add(`${place}.paging.next`, list.paging.next)
    if (list?.paging.kind === 'page') add(`${place}.paging.pages`, list.paging.pages)
  }
  const { tiers, cost: _, choices, ...values } = sound
  for (const [key, value] of Object.entries(values)) add(`sound.${key}`, value)
  for (const [key, value] of Object.entries(choices ?? {})) add(`sound.choices.${key}`, value)
  for (const [at, tier] of tiers.entries()) {
    add(`sound.tiers.${at}.price`, tier.price)
    add(`sound.tiers.${at}.currency`, tier.currency)
  }
  for (const key of ['version', 'title', 'url', 'text', 'spdx'] as const) add(`terms.${key}`, terms[key])
  add('preview.address', preview.address)
  for (const [at, { keep, agreed }] of order.steps.entries()) {
    for (const [name, expression] of Object.entries(keep)) add(`order.steps.${at}.keep.${name}`, expression)
    add(`order.steps.${at}.agreed.price`, agreed?.price)
    add(`order.steps.${at}.agreed.currency`, agreed?.currency)
  }
  add('order.find.order', order.find?.order)
  return found
}
