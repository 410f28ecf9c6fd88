import type { DescribedRequest } from '../../contract/library-description'
import { described as messages } from '../../messages/server/described'
import { SourceError } from '../ports/connector'

/** What names in a description stand for. */
export type Values = Readonly<Record<string, string>>

const NAME = /\{([A-Za-z][A-Za-z0-9_]{0,39})\}/g

/** A parameter of an address whose whole value is a name: without a value it is left out. */
const PARAMETER = /([?&][^=&?{}]{1,60}=)\{([A-Za-z][A-Za-z0-9_]{0,39})\}(?=&|$)/g

/** Fills {name} in an address, safe within a path; an address that is one name alone is taken as it is. @throws {SourceError} */
export function filledAddress(template: string, values: Values, libraryName: string): string {
  const alone = /^\{([A-Za-z][A-Za-z0-9_]{0,39})\}$/.exec(template)?.[1]
  if (alone !== undefined) return knownValue(alone, values, libraryName)
  return template
    .replace(PARAMETER, (whole, lead: string, name: string) =>
      knownValue(name, values, libraryName) === '' ? lead.slice(0, 1) : whole,
    )
    .replace(/([?&])&+/g, '$1')
    .replace(/[?&]$/, '')
    .replace(NAME, (_, name: string) => encodeURIComponent(knownValue(name, values, libraryName)))
}

/** Fills {name} in a text for people or for a header. @throws {SourceError} */
export function filledText(template: string, values: Values, libraryName: string): string {
  return template.replace(NAME, (_, name: string) => knownValue(name, values, libraryName))
}

/** Fills {name} in every text of a body. @throws {SourceError} */
export function filledJson(body: unknown, values: Values, libraryName: string): unknown {
  if (typeof body === 'string') return filledText(body, values, libraryName)
  if (Array.isArray(body)) return body.map((one) => filledJson(one, values, libraryName))
  if (typeof body !== 'object' || body === null) return body
  return Object.fromEntries(Object.entries(body).map(([key, one]) => [key, filledJson(one, values, libraryName)]))
}

/** A request of a description; what is not said of it stands at its first value. */
export type Asked = Pick<DescribedRequest, 'path'> & Partial<Omit<DescribedRequest, 'path'>>

/** Fills a request as a whole: its address, headers and body. @throws {SourceError} */
export function filledRequest(
  { path, method = 'GET', headers = {}, json }: Asked,
  values: Values,
  libraryName: string,
): { readonly path: string; readonly init: { method: string; headers: Record<string, string>; body?: string } } {
  const filled = Object.entries(headers).map(([name, text]) => [name, filledText(text, values, libraryName)] as const)
  const hasBody = json !== undefined
  return {
    path: filledAddress(path, values, libraryName),
    init: {
      method,
      headers: { ...(hasBody ? { 'Content-Type': 'application/json' } : {}), ...Object.fromEntries(filled) },
      ...(hasBody ? { body: JSON.stringify(filledJson(json, values, libraryName)) } : {}),
    },
  }
}

function knownValue(name: string, values: Values, libraryName: string): string {
  const value = Object.hasOwn(values, name) ? values[name] : undefined
  if (value === undefined)
    throw new SourceError(
      'nonsense',
      messages.descriptionAsksForWhereOnly(
        libraryName,
        name,
        Object.keys(values)
          .map((known) => `{${known}}`)
          .join(', '),
      ),
    )
  return value
}
