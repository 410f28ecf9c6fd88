import { describe, expect, it } from 'vitest'
import { type Json, LEDGER_KINDS } from './chain'
import { entryInWords } from './words'

describe('an entry in words', () => {
  it('of a check says what was cleared on that day, and on what it rested', () => {
    const body = {
      checkId: 3,
      soundsListenedFor: 450,
      placesHeard: 2,
      video: 'Dome night',
      asOf: '2026-05-04',
      state: 'points-open',
      uses: 'Online · earns · worldwide',
      verdicts: [
        { title: 'Ice crack', verdict: 'owes-credit', papersId: 12, termsSha256: 'ab'.repeat(32), onTheWordOf: null },
        { title: 'Owl', verdict: 'clear', papersId: 13, termsSha256: 'cd'.repeat(32), onTheWordOf: 'Ann' },
        { title: 'Hum', verdict: 'no-papers', papersId: null, termsSha256: null, onTheWordOf: null },
      ],
    }
    const { sentence, lines } = entryInWords({ kind: 'checked', body })
    expect(sentence).toContain('On 2026-05-04 it came to “points-open” for Online · earns · worldwide')
    expect(lines).toEqual([
      'Owes credit: “Ice crack” on papers 12, terms abababababab',
      'Clear: “Owl” on papers 13, terms cdcdcdcdcdcd, on the word of Ann',
      'No papers: “Hum”',
    ])
  })

  it.each([
    ['declared', { title: 'Owl', terms: null }, 'nobody knows where it is from'],
    ['declared', { title: 'Owl', terms: 'CC0', who: 'Ivo', from: '', when: '2026-01-02' }, '(Ivo, 2026-01-02)'],
    ['declared', { grantId: 4, grant: 'Single', videoId: 2, video: 'Dome' }, 'were named for “Dome”'],
    ['corrected', { grantId: 4, grant: 'Single', takenBack: true }, 'were taken back'],
    ['corrected', { grantId: 5, title: 'Owl', terms: 'CC0', replaces: 4 }, 'took the place of papers 4'],
    ['answered', { scope: 'channel', by: 'Ann' }, 'the voices in all videos'],
    ['answered', { answerId: 7, point: 'music', again: true }, 'brought back'],
    ['cleared-away', { videos: [1, 2], checks: [] }, '2 videos and 0 checks'],
    ['checked', { checkId: 9, soundsListenedFor: 1, placesHeard: 0 }, 'Check 9: 1 sounds listened for'],
  ] as const)('%s: %j', (kind, body, words) => {
    expect(entryInWords({ kind, body }).sentence).toContain(words)
  })

  it.each(LEDGER_KINDS)('of the kind %s with contents that are something else is shown all the same', (kind) => {
    const strange: Json[] = [null, 'text', 7, [1], {}, { verdicts: 'x', changes: 3 }]
    for (const body of strange) expect(entryInWords({ kind, body }).sentence).not.toBe('')
  })
})
