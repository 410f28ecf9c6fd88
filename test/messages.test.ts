import fs from 'node:fs'
import path from 'node:path'
import { describe, expect, it } from 'vitest'
import { messages } from '../src/messages'
import { plural } from '../src/messages/plural'
import { textsOutside } from './texts-outside'
import { ROOT } from './world'

const ISLANDS = path.join(ROOT, 'src', 'islands')

function sourceFiles(folder: string): string[] {
  return fs
    .readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .filter((name) => /\.tsx?$/.test(name) && !name.includes('.test.'))
    .map((name) => path.join(folder, name))
}

/** Every text of the catalogue; those that take something are given numbers. */
function allTexts(): [name: string, text: unknown][] {
  return Object.entries(messages).flatMap(([area, texts]) =>
    Object.entries(texts).map(([name, text]): [string, unknown] => [
      `${area}.${name}`,
      typeof text === 'function' ? (text as (...given: number[]) => unknown)(2, 3, 4, 5, 6) : text,
    ]),
  )
}

describe('the texts of the interface', () => {
  it('stand in the catalogue, and nowhere else', () => {
    const outside = sourceFiles(ISLANDS).flatMap((file) =>
      textsOutside(fs.readFileSync(file, 'utf8'), file).map(
        ({ line, text }) => `${path.relative(ROOT, file)}:${line} ${text}`,
      ),
    )
    expect(outside, outside.join('\n')).toEqual([])
  })

  it('are all used', () => {
    const used = new Set(
      sourceFiles(ISLANDS).flatMap((file) =>
        [...fs.readFileSync(file, 'utf8').matchAll(/messages\s*\.(\w+)\s*\.(\w+)/g)].map(
          ([, area, name]) => `${area}.${name}`,
        ),
      ),
    )
    expect(allTexts().flatMap(([name]) => (used.has(name) ? [] : [name]))).toEqual([])
  })

  it('say something, without words of the program in them', () => {
    const texts = allTexts()
    expect(texts.length).toBeGreaterThan(1000)
    const bad = texts.filter(
      ([, text]) => text === '' || (typeof text === 'string' && /undefined|\bNaN\b|\[object|#/.test(text)),
    )
    expect(bad).toEqual([])
  })
})

describe('what is looked for', () => {
  // What stands in braces here is part of the source that is read.
  // biome-ignore-start lint/suspicious/noTemplateCurlyInString: it is meant as it stands
  const found = (source: string): string[] => textsOutside(source, 'one.tsx').map(({ text }) => text)

  it.each([
    ['between tags', 'const a = <p>Add a sound</p>', 'Add a sound'],
    ['beside what is worked out', 'const a = <p>{count} sounds are here</p>', 'sounds are here'],
    ['in an attribute', 'const a = <b aria-label="close" />', 'close'],
    ['in a branch', 'const a = <p>{is ? "yes" : null}</p>', 'yes'],
    ['in a branch of an attribute', 'const a = <b title={is ? "open it" : undefined} />', 'open it'],
    ['in a template', 'const a = `${count} of them are gone`', '… of them are gone'],
    ['in a list', 'const a = ["Nothing was found", "x"]', 'Nothing was found'],
    ['in what is returned', 'const a = () => "there is nothing here"', 'there is nothing here'],
    ['in a field', 'const a = { words: "Remove" }', 'Remove'],
  ])('is found %s', (_where, source, text) => {
    expect(found(source)).toEqual([text])
  })

  it.each([
    ['names of classes', 'const a = <b className="flex grow items-center" />'],
    ['classes that depend', 'const a = <b className={`block text-sm ${is ? "font-semibold text-error" : ""}`} />'],
    ['addresses', 'const a = `/api/sounds/${id}/audio?content=${content}`'],
    ['keys', 'const a = event.key === "Enter" || event.key === "ArrowDown"'],
    ['what is compared', 'const a = title === "A sound"'],
    ['what a programmer reads', 'throw new Error("the provider is missing")'],
    ['what comes from the catalogue', 'const a = <p title={messages.find.any}>{messages.find.more} {count}</p>'],
    ['types', 'type A = "Not for the reader at all"'],
  ])('is not found in %s', (_what, source) => {
    expect(found(source)).toEqual([])
  })
  // biome-ignore-end lint/suspicious/noTemplateCurlyInString: it is meant as it stands
})

describe('a number and what is counted', () => {
  it.each([
    [0, '0 sounds'],
    [1, '1 sound'],
    [2, '2 sounds'],
    [21, '21 sounds'],
    [1234567, '1,234,567 sounds'],
  ])('%s is “%s”', (count, words) => {
    expect(plural(count, { one: '# sound', other: '# sounds' })).toBe(words)
  })
})
