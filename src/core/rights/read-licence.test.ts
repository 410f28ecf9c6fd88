import { createRequire } from 'node:module'
import { describe, expect, it } from 'vitest'
import { KNOWN_LICENCES } from './known-licences'
import { proposedClauses } from './phrase-rules'
import { normalisedText, readLicence } from './read-licence'
import { RESTRICTIONS } from './terms'

const require = createRequire(import.meta.url)
const TEXTS = new Map(
  [...KNOWN_LICENCES.keys()].map((spdxId) => [
    spdxId,
    (require(`spdx-license-list/licenses/${spdxId}.json`) as { licenseText: string }).licenseText,
  ]),
)
const read = (text: string) => readLicence(text, TEXTS)
const ids = (text: string): string[] => read(text).licences.map(({ spdxId }) => spdxId)

describe('a whole licence text', () => {
  it.each([...TEXTS.keys()])('%s is told from all of its relatives', (spdxId) => {
    const { licences, clauses } = read(TEXTS.get(spdxId) as string)
    expect(licences).toEqual([expect.objectContaining({ spdxId, by: 'text', confidence: 1 })])
    // What is known by heart needs no guessing.
    expect(clauses).toEqual([])
  })

  it('is recognised in another shape: case, lines, quotes, bullets, spelling', () => {
    const text = (TEXTS.get('CC-BY-4.0') as string)
      .replace(/"/g, '\u201d')
      .replace(/'/g, '\u2019')
      .replace(/licens/gi, 'licenc')
      .replace(/\n\s*\n/g, '\r\n\r\n   ')
      .toUpperCase()
    expect(read(text).licences[0]).toMatchObject({ spdxId: 'CC-BY-4.0', by: 'text' })
  })

  it('is not recognised when a part of it was taken out or put in', () => {
    const text = TEXTS.get('CC-BY-NC-4.0') as string
    expect(read(text.slice(0, text.length * 0.7)).licences.filter(({ by }) => by === 'text')).toEqual([])
    const more = text + ' Further, every copy has to be reported to the maker each month.'.repeat(20)
    expect(read(more).licences.filter(({ by }) => by === 'text')).toEqual([])
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
  ] as const)('%s', (text, spdxId, by) => {
    expect(read(text).licences).toEqual([expect.objectContaining({ spdxId, by })])
    expect(text).toContain(read(text).licences[0]?.quote)
  })

  it.each([
    'CC BY', // Which version?
    'CC-BY-2.0', // Not read by heart.
    'https://example.org/licenses/by/4.0/',
    'https://creativecommons.org/licenses/by/4.0.example.org/',
    'The owl cried at 4.0 metres by the dome.',
    '',
  ])('nothing: %s', (text) => {
    expect(ids(text)).toEqual([])
  })

  it('is all given where there are several, the surest first and each once', () => {
    const text = 'CC BY 4.0 (CC-BY-4.0), but the owl is https://creativecommons.org/licenses/by-nc/4.0/'
    expect(read(text).licences.map(({ spdxId, by }) => [spdxId, by])).toEqual([
      ['CC-BY-4.0', 'identifier'],
      ['CC-BY-NC-4.0', 'url'],
    ])
  })
})

describe('normalisedText', () => {
  it('makes copies of a text alike', () => {
    expect(normalisedText('  * \u201cThe Licence\u201d \u2013 organisation\n\n')).toBe('"the license" - organization')
  })
})

describe('an unknown text', () => {
  const clausesOf = (text: string) => proposedClauses(text).map(({ key, answer }) => `${key}: ${answer}`)

  it.each([
    ['You may use the sounds in videos online.', ['online: yes']],
    ['You may not use the sounds in games or apps.', ['game: no']],
    ['Use on television is not permitted.', ['broadcast: no']],
    ['No commercial use.', ['earning: no']],
    ['Not for broadcast.', ['broadcast: no']],
    ['Commercial use is allowed.', ['earning: yes']],
    [
      'You may use them in commercial projects if you have fewer than 1000 viewers.',
      ['audience: duty', 'earning: duty'],
    ],
    ['You may use the sound in a single project.', ['projects: duty']],
    ['You may use the sounds in any number of videos.', ['projects: yes']],
    ['For use in one video. Unlimited videos need a wider licence.', ['projects: duty']],
    ['You must register each film with us.', ['registration: duty']],
    ['Please keep the receipt.', ['proof: duty']],
    ['You may not redistribute the sounds as sound files.', ['standalone: no']],
    ['You must credit the maker by name.', ['credit: duty']],
    ['Credit is appreciated.', ['credit: yes']],
    ['No attribution required.', ['credit: yes']],
    ['The sounds may be used online, but not in games.', ['online: yes', 'game: no']],
    ['You can use them on the internet, except in paid advertising.', ['online: yes', 'paid-advertising: no']],
    ['You are granted a perpetual, worldwide right.', ['territory: yes', 'duration: yes']],
    ['The right is perpetual unless we end it.', []],
    ['The wind on the ridge was strong that night.', []],
  ])('%s', (text, expected) => {
    expect(clausesOf(text)).toEqual(expected)
  })

  it.each([
    ['Use in up to three videos.', { kind: 'videos', max: 3 }],
    ['For adverts that reach no more than 1.5 million people.', { kind: 'people', max: 1_500_000 }],
    ['For up to 500,000 viewers.', { kind: 'people', max: 500_000 }],
    ['For up to 2 million views.', { kind: 'people', max: 2_000_000 }],
    ['You may publish only on Skerryview and Tarnlight.', { kind: 'platforms', names: ['Skerryview', 'Tarnlight'] }],
  ] as const)('measures a restriction: %s', (text, limit) => {
    const found = proposedClauses(text).find((clause) => RESTRICTIONS.includes(clause.key))
    expect(found).toMatchObject({ answer: 'duty', limit })
  })

  it('quotes the sentence as it stands, white space made plain', () => {
    const text = 'Thank you.\n\n- You may use these sounds\n  in films at festivals.\n- Have fun!'
    expect(proposedClauses(text)).toEqual([
      { key: 'cinema', answer: 'yes', quote: 'You may use these sounds in films at festivals.', confidence: 0.8 },
    ])
  })

  it('leaves a point open on which it contradicts itself', () => {
    expect(clausesOf('Commercial use is allowed. Commercial use is prohibited.')).toEqual([])
  })

  it('is less sure of what stands in a list of prohibitions', () => {
    const [first] = proposedClauses('You may not use it in games, in cinemas or on television.')
    expect(first?.confidence).toBeLessThan(0.8)
  })

  it('takes a text of one endless line in its stride', () => {
    expect(proposedClauses('may use online '.repeat(20000))).toEqual([])
  })
})
