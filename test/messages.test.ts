import fs from 'node:fs'
import path from 'node:path'
import { describe, expect, it } from 'vitest'
import { messages as wording } from '../src/core/wording'
import { messages } from '../src/messages'
import { plural } from '../src/messages/plural'
import { messages as serverMessages } from '../src/messages/server'
import { textsOutside } from './texts-outside'
import { ROOT } from './world'

const SOURCE = path.join(ROOT, 'src')
const ISLANDS = path.join(SOURCE, 'islands')
/** Who says something beside the pages, and where that stands. */
const SPEAKERS = [
  ['core', 'core/wording'],
  ['server', 'messages/server'],
  ['contract', 'messages/server'],
  ['cli', 'messages/server'],
  ['pages', 'messages/server'],
] as const
/** What reads like a text, and is what the program works with. */
const WORKED_WITH: readonly (readonly [what: string, files: RegExp])[] = [
  ['the words of terms and of licences', /core\/rights\/(reading\/|known-licences|own-work)/],
  [
    'the terms of the libraries as they word them',
    /server\/sources\/(heron-slate|pell-marrow|skerryview|tin-barn)\.ts$/,
  ],
  ['the words of conditions that are typed', /core\/finding\/(filters|plain-conditions|categories|spoken)/],
  [
    'the words of file formats',
    /core\/(formats|score\/exchange)|contract\/library-description|server\/workers\/tag-file/,
  ],
  ['statements of the database, and what it answers', /server\/database\/(migrations|sqlite|open)/],
  ['what is only logged', /server\/loop-monitor/],
  ['what is only wrong in the program', /core\/(hearing\/(compact|features)|ledger\/chain|audio\/loudness)/],
  ['names of fields', /server\/described\/(described-sound|sign-in)/],
  ['names of files', /server\/score\/(package|mix-files)\.ts$|api\/videos\/\[id\]\/score-list/],
  ['pages as they are printed', /server\/moments\/printed-list/],
]
/** Values that are words: of what a wire carries, or of a format. */
const VALUES =
  /^(fetch again|read again|make again|same file|same recording|own files|used before|very likely|Xing|Info|Party|: still here|attachment; .*|<\?xml .*)$/

function sourceFiles(folder: string): string[] {
  return fs
    .readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .filter((name) => /\.tsx?$/.test(name) && !name.includes('.test.'))
    .map((name) => path.join(folder, name))
}

type Catalogue = Readonly<Record<string, Readonly<Record<string, unknown>>>>

/** Every text of the pages. */
const allTexts = () => textsOf(messages)

/** Every text of a catalogue; those that take something are given numbers. */
function textsOf(catalogue: Catalogue): [name: string, text: unknown][] {
  return Object.entries(catalogue).flatMap(([area, texts]) =>
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

  it.each(SPEAKERS)('of %s stand in %s, and nowhere else', (speaker, catalogue) => {
    const files = sourceFiles(path.join(SOURCE, speaker)).filter(
      (file) => !file.includes(`${path.sep}wording${path.sep}`) && !WORKED_WITH.some(([, files]) => files.test(file)),
    )
    expect(files.length).toBeGreaterThan(5)
    const outside = files.flatMap((file) =>
      textsOutside(fs.readFileSync(file, 'utf8'), file)
        .filter(({ text }) => !VALUES.test(text))
        .map(({ line, text }) => `${path.relative(ROOT, file)}:${line} ${text}`),
    )
    expect(outside, `They belong into src/${catalogue}:\n${outside.join('\n')}`).toEqual([])
  })

  it.each(WORKED_WITH)('leave out %s, which are there', (_what, files) => {
    expect(
      SPEAKERS.flatMap(([speaker]) => sourceFiles(path.join(SOURCE, speaker))).some((file) => files.test(file)),
    ).toBe(true)
  })

  it.each(['core/wording', 'messages/server'])('of %s are all used', (catalogue) => {
    const files = SPEAKERS.flatMap(([speaker]) => sourceFiles(path.join(SOURCE, speaker)))
    const used = new Set(
      files.flatMap((file) => {
        const source = fs.readFileSync(file, 'utf8')
        const area = new RegExp(`import \\{ (\\w+) as messages \\} from '[./]*${catalogue.replace('core/', '')}/`).exec(
          source,
        )?.[1]
        return area ? [...source.matchAll(/messages\s*\.(\w+)/g)].map(([, name]) => `${area}.${name}`) : []
      }),
    )
    const texts = textsOf(catalogue === 'core/wording' ? wording : serverMessages)
    expect(texts.flatMap(([name]) => (used.has(name) ? [] : [name]))).toEqual([])
    expect(texts.length).toBeGreaterThan(200)
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
    const texts = [...allTexts(), ...textsOf(wording), ...textsOf(serverMessages)]
    expect(texts.length).toBeGreaterThan(2500)
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

  it('is written the same way where the core counts', () => {
    expect(wording.clearance.cameOrChangedSince(1)).toMatch(/^1 sound came .* or was /)
    expect(wording.clearance.cameOrChangedSince(1234)).toMatch(/^1,234 sounds came .* or were /)
  })
})
