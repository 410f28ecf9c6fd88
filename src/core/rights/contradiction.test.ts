import { describe, expect, it } from 'vitest'
import { contradictionOf } from './contradiction'
import { KNOWN_LICENCES } from './known-licences'
import { OWN_WORK } from './own-work'
import { readLicence } from './reading'
import { CLAUSE_KEYS, groundedClauses, type Terms } from './terms'

function known(spdxId: string): Terms {
  const licence = KNOWN_LICENCES.get(spdxId)
  if (!licence) throw new Error(spdxId)
  const text = licence.readings.map(({ phrase }) => phrase).join('. ')
  return { ...licence, clauses: groundedClauses(text, licence.readings) }
}

const OWN: Terms = {
  ...OWN_WORK,
  spdxId: null,
  url: null,
  duration: 'for-ever',
  clauses: groundedClauses(OWN_WORK.text, OWN_WORK.readings),
}

describe('a text beside a file', () => {
  it.each([
    ['CC0-1.0', 'Licensed under CC BY 4.0.', 'credit'],
    ['CC-BY-4.0', 'Licensed under CC BY-NC 4.0.', 'paid-advertising'],
    ['CC-BY-4.0', 'You may not use it in games.', 'game'],
    ['CC0-1.0', 'This licence is for up to 3 users.', 'seats'],
    ['own', 'Licensed under CC BY 4.0.', 'credit'],
    ['own', 'You must credit Ivo Tarn.', 'credit'],
  ])('contradicts %s when it says: %s', (declared, text, key) => {
    const terms = declared === 'own' ? OWN : known(declared)
    const found = contradictionOf(terms, readLicence(text, new Map()))
    expect(found).toMatchObject({ key })
    expect(text).toContain(found?.quote)
  })

  it.each([
    ['CC-BY-4.0', 'Licensed under CC0 1.0.'],
    ['CC-BY-4.0', 'Licensed under CC BY 4.0.'],
    ['CC-BY-NC-4.0', 'You may not use it commercially.'],
    ['CC0-1.0', 'Recorded at the pond with two microphones.'],
    ['CC0-1.0', 'You may use it in games.'],
  ])('does not contradict %s when it says: %s', (declared, text) => {
    expect(contradictionOf(known(declared), readLicence(text, new Map()))).toBeNull()
  })

  it('contradicts nothing that was not allowed in the first place', () => {
    const nothing: Terms = { ...OWN, clauses: CLAUSE_KEYS.map((key) => ({ key, answer: 'no', quote: 'no' })) }
    expect(contradictionOf(nothing, readLicence('You may not use it in games.', new Map()))).toBeNull()
  })
})
