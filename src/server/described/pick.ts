import { compile, type JSONValue, TreeInterpreter } from '@jmespath-community/jmespath'
import type { DescribedValue } from '../../contract/library-description'
import { described as messages } from '../../messages/server/described'
import { notUnderstood, SourceError } from '../ports/connector'

/** An answer is quoted up to so many characters. */
const PIECE_LENGTH = 160
const LIST_MAX = 10_000

const UNIT_S = { ms: 0.001, s: 1, min: 60 } as const

/** Takes values out of the answers of one library; what is not as described is told with the expression and a piece of the answer. */
export class Picker {
  /** Expressions that were read: each is asked of every sound of a catalogue. */
  private readonly compiled = new Map<string, ReturnType<typeof compile>>()

  /** @param onProblem Told of what is not as described; it counts as not there then. Without it, it is thrown. */
  constructor(
    private readonly libraryName: string,
    private readonly onProblem?: (problem: { readonly field: string; readonly message: string }) => void,
  ) {}

  /** @param field What is looked for, for people. */
  text(value: DescribedValue | undefined, data: unknown, field: string, max: number): string {
    return this.tried(field, '', () => this.textOf(value, data, { field, max }))
  }

  required(value: DescribedValue, data: unknown, field: string, max: number): string {
    return this.tried(field, '', () => {
      const text = this.textOf(value, data, { field, max })
      if (text.trim() === '') throw this.unlike(value, data, { field, found: null, wanted: messages.aText })
      return text
    })
  }

  private textOf(
    value: DescribedValue | undefined,
    data: unknown,
    { field, max }: { readonly field: string; readonly max: number },
  ): string {
    const found = this.mapped(value, data, field)
    if (found === null) return ''
    if (typeof found !== 'string' && typeof found !== 'number')
      throw this.unlike(value, data, { field, found, wanted: messages.aText })
    return String(found).slice(0, max)
  }

  /** A number, also one that is written as text ("84 bpm"). */
  number(value: DescribedValue | undefined, data: unknown, field: string): number | null {
    return this.tried(field, null, () => {
      const found = this.mapped(value, data, field)
      if (found === null || found === '') return null
      const number = typeof found === 'string' ? Number.parseFloat(found) : found
      if (typeof number !== 'number' || !Number.isFinite(number))
        throw this.unlike(value, data, { field, found, wanted: messages.aNumber })
      return number
    })
  }

  truth(value: DescribedValue | undefined, data: unknown, field: string): boolean | null {
    return this.tried(field, null, () => {
      const found = this.mapped(value, data, field)
      if (found === null) return null
      if (typeof found !== 'boolean') throw this.unlike(value, data, { field, found, wanted: messages.trueOrFalse })
      return found
    })
  }

  /** Texts of a list, or of a text that is split. */
  texts(value: DescribedValue | undefined, data: unknown, field: string): string[] {
    return this.tried(field, [], () => {
      const found = value === undefined ? null : this.evaluated(expressionOf(value), data)
      if (found === null) return []
      const separator = typeof value === 'object' ? value.separator : undefined
      const list = typeof found === 'string' ? (separator === undefined ? [found] : found.split(separator)) : found
      if (!Array.isArray(list)) throw this.unlike(value, data, { field, found, wanted: messages.aList })
      return list
        .filter((one): one is string | number => typeof one === 'string' || typeof one === 'number')
        .map((one) => String(one).trim())
        .filter(Boolean)
    })
  }

  list(expression: string, data: unknown, field: string): readonly unknown[] {
    return this.tried(field, [], () => {
      const found = this.evaluated(expression, data)
      if (!Array.isArray(found) || found.length > LIST_MAX)
        throw this.unlike(expression, data, { field, found, wanted: messages.aListOfAtMost(LIST_MAX) })
      return found
    })
  }

  part(expression: string, data: unknown): unknown {
    return this.evaluated(expression, data)
  }

  /** A length in its unit, s. */
  lengthS(value: DescribedValue, data: unknown): number {
    const unit = typeof value === 'object' ? (value.unit ?? 's') : 's'
    return this.tried('length', 0, () => {
      if (unit === 'clock') return this.clockS(value, data)
      const length = this.number(value, data, 'length')
      if (length === null || length < 0)
        throw this.unlike(value, data, { field: 'length', found: length, wanted: messages.aLength })
      return length * UNIT_S[unit]
    })
  }

  private clockS(value: DescribedValue, data: unknown): number {
    const text = this.required(value, data, 'length', 20)
    const parts = /^(?:(\d{1,3}):)?(\d{1,3}):(\d{1,2}(?:\.\d{1,6})?)$/.exec(text)
    if (!parts) throw this.unlike(value, data, { field: 'length', found: text, wanted: 'a time such as 1:23' })
    return Number(parts[1] ?? 0) * 3600 + Number(parts[2]) * 60 + Number(parts[3])
  }

  private tried<T>(field: string, otherwise: T, read: () => T): T {
    const { onProblem } = this
    if (!onProblem) return read()
    try {
      return read()
    } catch (error) {
      if (!(error instanceof SourceError)) throw error
      onProblem({ field, message: error.message })
      return otherwise
    }
  }

  private mapped(value: DescribedValue | undefined, data: unknown, field: string): unknown {
    if (value === undefined) return null
    const found = this.evaluated(expressionOf(value), data)
    const map = typeof value === 'object' ? value.map : undefined
    if (!map || found === null) return found
    const key = String(found)
    if (!Object.hasOwn(map, key))
      throw this.unlike(value, data, { field, found, wanted: messages.oneOf(Object.keys(map).join(', ')) })
    return map[key]
  }

  private evaluated(expression: string, data: unknown): unknown {
    try {
      const compiled = this.compiled.get(expression) ?? compile(expression)
      this.compiled.set(expression, compiled)
      return TreeInterpreter.search(compiled, data as JSONValue) ?? null
    } catch (cause) {
      const why = (cause as Error).message
      throw notUnderstood(this.libraryName, `“${expression}” cannot be worked out (${why}), in ${pieceOf(data)}`, cause)
    }
  }

  private unlike(
    value: DescribedValue | undefined,
    data: unknown,
    { field, found, wanted }: { readonly field: string; readonly found: unknown; readonly wanted: string },
  ): SourceError {
    const gives = found === null ? 'nothing' : pieceOf(found)
    return notUnderstood(
      this.libraryName,
      `“${value === undefined ? '' : expressionOf(value)}” (${field}) gives ${gives} where ${wanted} was expected, in ${pieceOf(data)}`,
    )
  }
}

function expressionOf(value: DescribedValue): string {
  return typeof value === 'string' ? value : value.from
}

function pieceOf(data: unknown): string {
  const text = JSON.stringify(data) ?? 'nothing'
  return text.length > PIECE_LENGTH ? `${text.slice(0, PIECE_LENGTH)} …` : text
}
