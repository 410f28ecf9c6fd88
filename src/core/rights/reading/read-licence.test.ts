import { createRequire } from 'node:module'
import { describe, expect, it } from 'vitest'
import { KNOWN_LICENCES } from '../known-licences'
import { RESTRICTIONS } from '../terms'
import { normalisedText } from './normalised-text'
import { openSentencesOn, proposedClauses, TOO_MANY_OPEN } from './proposed-clauses'
import { readLicence } from './read-licence'
import { sentencesOf } from './sentences'

const require = createRequire(import.meta.url)
const TEXTS = new Map(
  [...KNOWN_LICENCES.keys()].map((spdxId) => [
    spdxId,
    (require(`spdx-license-list/licenses/${spdxId}.json`) as { licenseText: string }).licenseText,
  ]),
)
const read = (text: string) => readLicence(text, TEXTS)
const ids = (text: string): string[] => read(text).licences.map(({ spdxId }) => spdxId)
const BY = TEXTS.get('CC-BY-4.0') as string

describe('a whole licence text', () => {
  it.each([...TEXTS.keys()])('%s is told from all of its relatives', (spdxId) => {
    const reading = read(TEXTS.get(spdxId) as string)
    // What is known by heart needs no guessing.
    expect(reading).toMatchObject({ like: null, clauses: [], open: [] })
    expect(reading.licences).toEqual([expect.objectContaining({ spdxId, by: 'text', confidence: 1 })])
  })

  it('is recognised in another shape: case, lines, quotes, bullets, spelling', () => {
    const text = BY.replace(/"/g, '”')
      .replace(/'/g, '’')
      .replace(/licens/gi, 'licenc')
      .replace(/\n\s*\n/g, '\r\n\r\n   ')
      .toUpperCase()
    expect(read(text).licences[0]).toMatchObject({ spdxId: 'CC-BY-4.0', by: 'text' })
  })

  it.each([
    ['a notice of copyright', `Copyright (c) 2024 Ann Hill\n\n${BY}`],
    ['a notice with years', `© 2019-2024, Small Hours.\n\n${BY}`],
    ['its title in another form', BY.replace('Creative Commons Attribution 4.0', 'Attribution 4.0')],
    ['HTML around it', `<html><body><p>${BY.replace(/\n\n/g, '</p>\n<p>')}</p></body></html>`],
    ['lines of signs', `======\n${BY}\n======`],
  ])('is recognised with %s', (_what, text) => {
    expect(read(text).licences).toEqual([expect.objectContaining({ spdxId: 'CC-BY-4.0', by: 'text' })])
  })

  it.each([
    [
      'that forbids everything at its end',
      `${BY}\n\nNotwithstanding the above, no use in videos is allowed.`,
      'no use in videos is allowed',
    ],
    [
      'of one word in the middle',
      BY.replace('Licensed Rights in the', 'Licensed noncommercial Rights in the'),
      'noncommercial',
    ],
    ['in the place of a notice', `Copyright 2024 Ann Hill. Not for use in adverts.\n${BY}`, 'not for use in adverts'],
    ['hidden in HTML', `<p>${BY}</p><p>For subscribers only.</p>`, 'for subscribers only'],
    [
      'of 170 words',
      `${BY}\n${'You must ask us before each use and pay what we then say. '.repeat(14)}`,
      'you must ask us before each use',
    ],
  ])('is not that licence with an addition %s', (_what, text, added) => {
    const { licences, like } = read(text)
    expect(licences).toEqual([])
    expect(like).toMatchObject({ spdxId: 'CC-BY-4.0' })
    expect(like?.added.join(' … ')).toContain(added)
  })

  it('reads what was added as clauses of its own', () => {
    const { clauses } = read(`${BY}\n\nThe sounds may not be used in games.`)
    expect(clauses).toEqual([
      expect.objectContaining({ key: 'game', answer: 'no', quote: 'The sounds may not be used in games.' }),
    ])
  })

  it('is not that licence when words are missing', () => {
    const { licences, like } = read(BY.replace('the Licensor hereby grants You', 'the Licensor may grant You'))
    expect(licences).toEqual([])
    expect(like?.missing.length).toBeGreaterThan(0)
    expect(read(BY.slice(0, BY.length * 0.7)).licences).toEqual([])
  })
})

describe('what names a licence', () => {
  it.each([
    ['SPDX-License-Identifier: CC-BY-4.0', 'CC-BY-4.0', 'identifier'],
    ['licence cc0-1.0 as of today', 'CC0-1.0', 'identifier'],
    ['https://creativecommons.org/licenses/by-nc/3.0/', 'CC-BY-NC-3.0', 'url'],
    ['see <http://www.creativecommons.org/licenses/by-sa/4.0/legalcode>.', 'CC-BY-SA-4.0', 'url'],
    ['creativecommons.org/publicdomain/zero/1.0', 'CC0-1.0', 'url'],
    ['https://creativecommons.org/publicdomain/mark/1.0/deed.de', 'CC-PDM-1.0', 'url'],
    ['All sounds CC BY 4.0, made on the hill.', 'CC-BY-4.0', 'name'],
    ['Creative Commons Attribution-NonCommercial-NoDerivs 3.0 Unported', 'CC-BY-NC-ND-3.0', 'name'],
    ['released as CC0', 'CC0-1.0', 'name'],
    ['These recordings are under CC BY-SA 4.0.', 'CC-BY-SA-4.0', 'name'],
  ] as const)('%s', (text, spdxId, by) => {
    expect(read(text).licences).toEqual([expect.objectContaining({ spdxId, by })])
    expect(text).toContain(read(text).licences[0]?.quote)
  })

  it.each([
    'CC BY', // Which version?
    'CC-BY-2.0', // Not read by heart.
    'https://example.org/licenses/by/4.0/',
    'https://creativecommons.org/licenses/by/4.0.example.org/',
    'https://creativecommons.org.example.net/licenses/by/4.0/',
    'https://example.net/https://creativecommons.org/licenses/by/4.0/',
    'https://creativecommons.org@example.net/licenses/by/4.0/',
    'The owl cried at 4.0 metres by the dome.',
    'These sounds are not under CC BY 4.0.',
    'These sounds aren’t CC0.',
    'Formerly released as CC0.',
    'CC BY 4.0 until the end of 2023.',
    'Under CC BY 4.0 for subscribers.',
    'If you are a school, CC BY 4.0 holds.',
    'CC BY 4.0, non-commercial use only.',
    'CC BY 4.0 NC',
    'CC0 but no derivatives',
    'Our music is CC BY 4.0.',
    'The photos are under CC0 and the sounds are ours.',
    'Compatible with CC BY 4.0.',
    'A licence similar to CC0 holds.',
    'CC BY 4.0 or GPL.',
    'Is it under CC BY 4.0?',
    'Material under CC-BY-4.0 may be mixed with it.',
    'CC-BY-4.0-ish',
    '',
  ])('nothing: %s', (text) => {
    expect(ids(text)).toEqual([])
  })

  it('is all given where there are several, the surest first and each once', () => {
    const text = 'CC BY 4.0 (CC-BY-4.0). The owl is under https://creativecommons.org/licenses/by-nc/4.0/'
    expect(read(text).licences.map(({ spdxId, by }) => [spdxId, by])).toEqual([
      ['CC-BY-4.0', 'identifier'],
      ['CC-BY-NC-4.0', 'url'],
    ])
  })

  it('is understood with the sentence that it stands in', () => {
    const { licences, open } = read('Made by Ivo Tarn, who puts them under Creative Commons Attribution 4.0.')
    expect(licences).toHaveLength(1)
    expect(open).toEqual([])
  })

  it('comes with what restricts it beside it', () => {
    const { licences, clauses } = read('License: CC-BY-4.0\n\nYou may not use the sounds in games.')
    expect(licences).toHaveLength(1)
    expect(clauses).toEqual([expect.objectContaining({ key: 'game', answer: 'no' })])
  })
})

describe('a text', () => {
  it('is made alike in what copies differ in, and in nothing else', () => {
    expect(normalisedText('  * “The Licence” – organisation\n\n')).toBe('"the license" - organization')
    expect(normalisedText('You may\nnot. use it')).toContain('not')
  })

  it.each([
    ['You may use it. You may not sell it.', ['You may use it.', 'You may not sell it.']],
    ['Use it, e.g. The owl.', ['Use it, e.g. The owl.']],
    ['<ul><li>One<li>Two</ul>', ['One', 'Two']],
    ['a < b and c > d', ['a < b and c > d']],
    ['You can&rsquo;t.', ['You can’t.']],
  ])('falls into sentences: %s', (text, expected) => {
    expect(sentencesOf(text).map(({ quote }) => quote)).toEqual(expected)
  })

  it('reads an item of a list with the line that opens the list', () => {
    expect(sentencesOf('You may not:\n- use it in games\n- sell it').map(({ text }) => text)).toEqual([
      'You may not:',
      'You may not: use it in games',
      'You may not: sell it',
    ])
  })
})

describe('an unknown text', () => {
  const clausesOf = (text: string) => proposedClauses(text).clauses.map(({ key, answer }) => `${key}: ${answer}`)

  it.each([
    ['Use in up to three videos.', { kind: 'videos', max: 3 }],
    ['One licence per production.', { kind: 'videos', max: 1 }],
    ['A separate licence is needed for each film.', { kind: 'videos', max: 1 }],
    ['For adverts that reach no more than 1.5 million people.', { kind: 'people', max: 1_500_000 }],
    ['For up to 500,000 viewers.', { kind: 'people', max: 500_000 }],
    ['For up to 2 million views.', { kind: 'people', max: 2_000_000 }],
    ['Channels below 10k subscribers.', { kind: 'people', max: 10_000 }],
    ['This licence is for up to 3 users.', { kind: 'seats', max: 3 }],
    ['The licence covers a single seat.', { kind: 'seats', max: 1 }],
    ['A single-user licence.', { kind: 'seats', max: 1 }],
    ['It may be installed on no more than five workstations.', { kind: 'seats', max: 5 }],
    ['Licences are needed for each editor.', { kind: 'seats', max: 1 }],
    ['Two-user licence', { kind: 'seats', max: 2 }],
    ['For videos of up to ten minutes.', { kind: 'length', maxS: 600 }],
    ['Films must be no longer than 90 seconds.', { kind: 'length', maxS: 90 }],
    ['Videos longer than 2 hours need another licence.', { kind: 'length', maxS: 7200 }],
    ['Clips with a maximum of 1.5 min.', { kind: 'length', maxS: 90 }],
    ['You may publish only on Skerryview and Tarnlight.', { kind: 'platforms', names: ['Skerryview', 'Tarnlight'] }],
  ] as const)('measures a restriction: %s', (text, limit) => {
    const found = proposedClauses(text).clauses.find((clause) => RESTRICTIONS.includes(clause.key))
    expect(found).toMatchObject({ answer: 'duty', limit })
  })

  it.each([
    'The door shuts after two seconds, and the film goes on.',
    'Every user of our site may write to us.',
    'Recorded for 3 minutes on one microphone.',
    'We answer users within one day.',
  ])('takes no measure from what speaks of something else: %s', (text) => {
    const lengths = proposedClauses(text).clauses.filter(({ key }) => key === 'video-length')
    expect(lengths).toEqual([])
  })

  it('quotes the sentence as it stands, white space made plain', () => {
    const text = 'Thank you.\n\n- You may use these sounds\n  in films at festivals.\n- Have fun!'
    expect(proposedClauses(text.replace('films at festivals', 'cinemas')).clauses).toEqual([
      { key: 'cinema', answer: 'yes', quote: 'You may use these sounds in cinemas.', confidence: 0.8 },
    ])
  })

  it('holds to the no where it contradicts itself, and quotes both', () => {
    expect(proposedClauses('Commercial use is allowed. Commercial use is prohibited.').clauses).toEqual([
      {
        key: 'earning',
        answer: 'no',
        quote: 'Commercial use is prohibited.',
        confidence: 0.8,
        against: 'Commercial use is allowed.',
      },
    ])
  })

  it('is less sure of what stands in a list of prohibitions', () => {
    const [first] = proposedClauses('You may not use it in games, in cinemas or on television.').clauses
    expect(first?.confidence).toBeLessThan(0.8)
  })

  it('keeps a point from being plain while a sentence that touches it was not understood', () => {
    const { clauses, open } = proposedClauses(
      'You may use the sounds in online videos. You may edit the sounds. Channels with many viewers are another matter.',
    )
    expect(clauses.map(({ key, answer }) => `${key}: ${answer}`)).toEqual(['online: yes', 'modification: yes'])
    expect(openSentencesOn('online', open)).toHaveLength(1)
    expect(openSentencesOn('modification', open)).toEqual([])
  })

  it('takes what restricts without naming a point as touching every point', () => {
    const { open } = proposedClauses('You may edit the sounds. All of this holds while you subscribe only.')
    expect(openSentencesOn('modification', open)).toHaveLength(1)
  })

  it('does not take “it” for the sounds after a sentence on something else', () => {
    expect(clausesOf('Our music is on another page. You may use it in online videos.')).toEqual([])
    expect(clausesOf('The owl was recorded at night. You may use it in online videos.')).toEqual(['online: yes'])
  })

  it('is not read in another language, as a whole or by the sentence', () => {
    const german =
      'Die Klänge dürfen in Videos im Internet verwendet werden, jedoch nicht in Werbung. Für alles andere bitte vorher schriftlich fragen.'
    expect(proposedClauses(german)).toMatchObject({ clauses: [], open: [{ keys: [] }] })
    const mixed = 'You may use the sounds in online videos. Nicht für Werbung oder Spiele.'
    expect(openSentencesOn('online', proposedClauses(mixed).open)).toHaveLength(1)
  })

  it('gives no more open sentences than can be read, and says that there are more', () => {
    const { open } = proposedClauses('The owl knows it.\n\n'.repeat(2000))
    expect(open).toHaveLength(501)
    expect(open.at(-1)).toEqual({ quote: TOO_MANY_OPEN, keys: [] })
  })

  it('takes a text of one endless line, or of nothing but signs, in its stride', () => {
    const { clauses, open } = proposedClauses('may use online '.repeat(20000))
    expect(clauses).toEqual([])
    expect(open).toHaveLength(1)
    for (const sign of ['\n', '<', '&', '. ', '- \n', '('])
      expect(proposedClauses(sign.repeat(100_000)).clauses).toEqual([])
  })
})
