import { createRequire } from 'node:module'
import { describe, expect, it } from 'vitest'
import { type Decision, decide } from './decide'
import { KNOWN_LICENCES } from './known-licences'
import { clauseOf, groundedClauses, RESTRICTIONS, type Terms, USE_PLACES, type UsePlace } from './terms'
import type { Uses } from './uses'

const require = createRequire(import.meta.url)

interface Read {
  readonly terms: Terms
  readonly text: string
}

const readBefore = new Map<string, Read>()

/** The licence as it is read from its full text, once. */
function termsOf(spdxId: string): Read {
  const read = readBefore.get(spdxId) ?? readInFull(spdxId)
  readBefore.set(spdxId, read)
  return read
}

function readInFull(spdxId: string): Read {
  const { licenseText } = require(`spdx-license-list/licenses/${spdxId}.json`) as { licenseText: string }
  const known = KNOWN_LICENCES.get(spdxId)
  if (!known) throw new Error(`${spdxId} is not built in`)
  return { terms: { ...known, clauses: groundedClauses(licenseText, known.readings) }, text: licenseText }
}

function verdict(spdxId: string, uses: Partial<Uses>): Decision {
  return decide({
    uses: { places: ['online'], earns: false, territory: 'worldwide', publishOn: null, videoLicence: null, ...uses },
    asOf: '2026-06-01',
    papers: [{ terms: termsOf(spdxId).terms, grantTitle: 'Open licence', planFrom: null, planUntil: null }],
  })
}

const MARK = 'CC-PDM-1.0'

describe.each([...KNOWN_LICENCES.keys()].filter((id) => id !== MARK))('%s', (spdxId) => {
  it('is read in full, and every quote stands in its text', () => {
    const { terms, text } = termsOf(spdxId)
    const flat = text.replace(/\s+/g, ' ').replace(/’/g, "'")
    for (const clause of terms.clauses) {
      // These only restrict, and the licence is silent on them: there is nothing to meet.
      if (RESTRICTIONS.includes(clause.key)) continue
      expect(clause.answer, clause.key).not.toBe('not-stated')
      expect(flat, clause.key).toContain((clause.quote as string).replace(/\s+/g, ' '))
    }
  })

  it('holds for ever and everywhere', () => {
    const { terms } = termsOf(spdxId)
    expect(terms.duration).toBe('for-ever')
    expect(clauseOf(terms, 'territory').answer).toBe('yes')
  })
})

it('quotes for a video that earns only words that the non-commercial licences do not have', () => {
  const flat = (text: string): string => text.replace(/\s+/g, ' ')
  for (const version of ['4.0', '3.0'])
    for (const kind of ['BY', 'BY-SA', 'BY-ND']) {
      const quote = clauseOf(termsOf(`CC-${kind}-${version}`).terms, 'earning').quote as string
      for (const other of ['BY-NC', 'BY-NC-SA', 'BY-NC-ND'])
        expect(flat(termsOf(`CC-${other}-${version}`).text)).not.toContain(quote)
    }
})

const [C, O, X] = ['clear', 'owes-credit', 'not-allowed'] as const

describe('the Creative Commons family against every use', () => {
  // One column for each place: online, paid advertising, client work, broadcast, cinema, game, audio only, internal.
  it.each([
    ['CC0-1.0', false, [C, C, C, C, C, C, C, C]],
    ['CC0-1.0', true, [C, C, C, C, C, C, C, C]],
    ['CC-BY-4.0', false, [O, O, O, O, O, O, O, O]],
    ['CC-BY-4.0', true, [O, O, O, O, O, O, O, O]],
    ['CC-BY-NC-4.0', false, [O, X, X, O, O, O, O, O]],
    ['CC-BY-NC-4.0', true, [X, X, X, X, X, X, X, X]],
    ['CC-BY-SA-4.0', false, [X, X, X, X, X, X, X, X]],
    ['CC-BY-SA-4.0', true, [X, X, X, X, X, X, X, X]],
    ['CC-BY-ND-4.0', false, [X, X, X, X, X, X, X, X]],
    ['CC-BY-ND-4.0', true, [X, X, X, X, X, X, X, X]],
    ['CC-BY-NC-SA-4.0', false, [X, X, X, X, X, X, X, X]],
    ['CC-BY-NC-SA-4.0', true, [X, X, X, X, X, X, X, X]],
    ['CC-BY-NC-ND-4.0', false, [X, X, X, X, X, X, X, X]],
    ['CC-BY-NC-ND-4.0', true, [X, X, X, X, X, X, X, X]],
    ['CC-BY-3.0', false, [O, O, O, O, O, O, O, O]],
    ['CC-BY-3.0', true, [O, O, O, O, O, O, O, O]],
    ['CC-BY-NC-3.0', false, [O, X, X, O, O, O, O, O]],
    ['CC-BY-NC-3.0', true, [X, X, X, X, X, X, X, X]],
    ['CC-BY-SA-3.0', false, [X, X, X, X, X, X, X, X]],
    ['CC-BY-SA-3.0', true, [X, X, X, X, X, X, X, X]],
    ['CC-BY-ND-3.0', false, [X, X, X, X, X, X, X, X]],
    ['CC-BY-ND-3.0', true, [X, X, X, X, X, X, X, X]],
    ['CC-BY-NC-SA-3.0', false, [X, X, X, X, X, X, X, X]],
    ['CC-BY-NC-SA-3.0', true, [X, X, X, X, X, X, X, X]],
    ['CC-BY-NC-ND-3.0', false, [X, X, X, X, X, X, X, X]],
    ['CC-BY-NC-ND-3.0', true, [X, X, X, X, X, X, X, X]],
    // Free of known restrictions, but not said for all countries nor for good.
    ['CC-PDM-1.0', false, [X, X, X, X, X, X, X, X]],
    ['CC-PDM-1.0', true, [X, X, X, X, X, X, X, X]],
  ] as const)('%s, earns: %s', (spdxId, earns, expected) => {
    const verdicts = USE_PLACES.map((place: UsePlace) => verdict(spdxId, { places: [place], earns }).verdict)
    expect(verdicts).toEqual([...expected])
  })

  it('share-alike is met by a video under the same licence, and only by that', () => {
    expect(verdict('CC-BY-SA-4.0', { videoLicence: 'CC-BY-SA-4.0' })).toMatchObject({
      verdict: 'owes-credit',
      duties: ['credit', 'share-alike'],
    })
    expect(verdict('CC-BY-SA-4.0', { videoLicence: 'CC-BY-NC-SA-4.0' }).verdict).toBe('not-allowed')
    expect(verdict('CC-BY-NC-SA-4.0', { videoLicence: 'CC-BY-NC-SA-4.0', earns: true }).verdict).toBe('not-allowed')
  })

  it('says why, with the words of the licence', () => {
    const [reason] = verdict('CC-BY-NC-4.0', { earns: true }).reasons
    expect(reason).toEqual({
      key: 'earning',
      effect: 'bars',
      sentence: 'Creative Commons BY-NC 4.0 does not allow a video that earns.',
      quote: 'not primarily intended for or directed towards commercial advantage or monetary compensation',
    })
    expect(verdict('CC-BY-ND-4.0', {}).reasons[0]).toMatchObject({
      key: 'modification',
      quote: 'produce and reproduce, but not Share, Adapted Material',
    })
  })
})

/** What the licences themselves say: what each of their elements does to a video. */
interface Elements {
  readonly credit: boolean
  readonly nonCommercial: boolean
  readonly noDerivatives: boolean
  readonly shareAlike: boolean
}

/** Read off the name, which the licences' own texts define; nothing of the engine is used. */
function elementsOf(spdxId: string): Elements {
  const parts = spdxId.split('-')
  return {
    credit: parts.includes('BY'),
    nonCommercial: parts.includes('NC'),
    noDerivatives: parts.includes('ND'),
    shareAlike: parts.includes('SA'),
  }
}

const EARNING_PLACES: readonly UsePlace[] = ['paid-advertising', 'client-work']

/** What a video may do with a sound under a licence, from what the licence says alone. */
function expectedVerdict(spdxId: string, uses: Uses): Decision['verdict'] {
  if (spdxId === MARK) return 'not-allowed'
  const { credit, nonCommercial, noDerivatives, shareAlike } = elementsOf(spdxId)
  const earns = uses.earns || uses.places.some((place) => EARNING_PLACES.includes(place))
  // To lay a sound under moving pictures is adapted material (4.0, section 1) or an adaptation (3.0, section 1).
  if (noDerivatives) return 'not-allowed'
  if (nonCommercial && earns) return 'not-allowed'
  if (shareAlike && uses.videoLicence !== spdxId) return 'not-allowed'
  return credit ? 'owes-credit' : 'clear'
}

describe('the whole table of the family', () => {
  const territories = ['worldwide', 'AT,CH'] as const
  const videoLicences = [null, ...KNOWN_LICENCES.keys()]
  const cellsOf = (spdxId: string): { readonly uses: Uses; readonly spdxId: string }[] =>
    USE_PLACES.flatMap((place) =>
      [false, true].flatMap((earns) =>
        territories.flatMap((territory) =>
          videoLicences.map((videoLicence) => ({
            spdxId,
            uses: { places: [place], earns, territory, publishOn: '2026-07-01', videoLicence },
          })),
        ),
      ),
    )

  it.each([...KNOWN_LICENCES.keys()])('%s is as its text says in every cell', (spdxId) => {
    const cells = cellsOf(spdxId)
    const wrong = cells.filter(({ uses }) => verdict(spdxId, uses).verdict !== expectedVerdict(spdxId, uses))
    expect(wrong).toEqual([])
    expect(cells.length).toBe(USE_PLACES.length * 2 * 2 * (KNOWN_LICENCES.size + 1))
  })

  it('holds several uses to the one that is barred', () => {
    for (const spdxId of KNOWN_LICENCES.keys())
      for (const one of USE_PLACES)
        for (const other of USE_PLACES) {
          const uses: Uses = {
            places: [one, other],
            earns: false,
            territory: 'worldwide',
            publishOn: '2026-07-01',
            videoLicence: spdxId,
          }
          expect([spdxId, one, other, verdict(spdxId, uses).verdict]).toEqual([
            spdxId,
            one,
            other,
            expectedVerdict(spdxId, uses),
          ])
        }
  })
})

describe('the public domain mark', () => {
  it('allows in words what it can, and leaves open what it says nothing of', () => {
    const { terms } = termsOf(MARK)
    expect(clauseOf(terms, 'earning')).toMatchObject({ answer: 'yes', quote: expect.stringContaining('commercial') })
    for (const key of ['territory', 'duration', 'credit'] as const)
      expect(clauseOf(terms, key).answer, key).toBe('not-stated')
  })
})

describe('sharing alike', () => {
  it.each(['CC-BY-SA-3.0', 'CC-BY-SA-4.0'])('under %s is met by a video under the same licence', (spdxId) => {
    expect(verdict(spdxId, { videoLicence: spdxId })).toMatchObject({
      verdict: 'owes-credit',
      duties: ['credit', 'share-alike'],
    })
  })
})
