import type { SoundKind } from '../../src/core/hearing'
import { certaintyOf, type Detection } from '../../src/core/hearing'
import type { Laid, SetName } from './mixes'

/** What was laid into a mix against what was heard in it. */
export interface Scored {
  readonly set: SetName
  readonly pairs: readonly { readonly laid: Laid; readonly find: Heard | null }[]
  /** Finds of what was not placed in the mix there. */
  readonly others: readonly Heard[]
  readonly hours: number
}

export type Heard = Detection & { readonly names: readonly string[] }

/** So many false finds of a set are named. */
const OTHERS_SHOWN = 20
/** A find is of a place when the name fits and it overlaps a good part of it. */
const OVERLAP_MIN = 0.3

export function scored(set: SetName, laid: readonly Laid[], heard: readonly Heard[], durationS: number): Scored {
  const used = new Set<Heard>()
  const pairs = laid.map((place) => {
    const find =
      heard.find((one) => !used.has(one) && one.names.includes(place.name) && overlapping(place, one)) ?? null
    if (find) used.add(find)
    return { laid: place, find }
  })
  return { set, pairs, others: heard.filter((one) => !used.has(one)), hours: durationS / 3600 }
}

function overlapping(place: Laid, find: Detection): boolean {
  const overlapS = Math.min(place.endS, find.endS) - Math.max(place.startS, find.startS)
  return overlapS > OVERLAP_MIN * Math.min(place.endS - place.startS, find.endS - find.startS)
}

/** The figures of a set, as lines of text. */
export function report({ set, pairs, others, hours }: Scored): string[] {
  const found = pairs.flatMap(({ laid, find }) => (find ? [{ laid, find }] : []))
  const lines = [`\n${set}: ${pairs.length} places, ${(hours * 60).toFixed(0)} min`]
  if (pairs.length > 0) {
    lines.push(`  found            ${share(found.length, pairs.length)}`)
    lines.push(`  by level, dB     ${tally(pairs, ({ laid }) => String(laid.ratioDb))}`)
    lines.push(`  by length, s     ${tally(pairs, ({ laid }) => lengthClass(laid.toS - laid.fromS))}`)
    if (set === 'treated' || set === 'sped')
      lines.push(`  by treatment     ${tally(pairs, ({ laid }) => laid.treatment)}`)
    lines.push(
      `  start            median ${median(found.map(({ laid, find }) => Math.abs(startError(laid, find)) * 1000)).toFixed(3)} ms`,
    )
    const within = (what: string, fits: (pair: (typeof found)[number]) => boolean): void => {
      lines.push(`  ${what.padEnd(16)} ${share(found.filter(fits).length, found.length)}`)
    }
    within('part from 0.1 s', ({ laid, find }) => Math.abs(laid.fromS - find.fromS) <= 0.1)
    within('part to 0.1 s', ({ laid, find }) => Math.abs(laid.toS - find.toS) <= 0.1)
    within('level 1.5 dB', ({ laid, find }) => Math.abs(laid.gainDb - find.gainDb) <= 1.5)
    within('balance 0.15', ({ laid, find }) => Math.abs(laid.balance - find.balance) <= 0.15)
    within('speed 1 %', ({ laid, find }) => Math.abs(find.speed / laid.speed - 1) <= 0.01)
    within('treatment', ({ laid, find }) => laid.treatment === find.treatment)
  }
  lines.push(
    `  false finds      ${others.length} (${(others.length / hours).toFixed(1)} an hour), highest confidence ${Math.max(0, ...others.map(({ confidence }) => confidence)).toFixed(3)}`,
  )
  for (const { names, startS, endS, speed, treatment, score, confidence, inSide } of others.slice(0, OTHERS_SHOWN))
    lines.push(
      `    ${names.join(' or ')}, ${startS.toFixed(2)} to ${endS.toFixed(2)} s, ${treatment}, speed ${speed.toFixed(3)}, score ${score.toFixed(1)}${inSide ? ' in the side' : ''}, confidence ${confidence.toFixed(3)}`,
    )
  return lines
}

/** Limits of the stated certainties that are told apart; from the last on a find is called certain. */
const CERTAINTIES = [0.5, 0.8, 0.9, 0.95, 0.98, 0.99, 0.995] as const
const BAR_CHARACTERS = 40

/**
 * A reliability diagram over all sets, and of the certain finds by kind of sound: stated against true certainty. The bar is as long as the
 * share that is true, the mark where it should end.
 *
 * @param kindByName Kind of each listed sound.
 */
export function reliability(sets: readonly Scored[], kindByName: ReadonlyMap<string, SoundKind>): string[] {
  const all = sets.flatMap(({ pairs, others }) => [
    ...pairs.flatMap(({ find }) => (find ? [{ find, isTrue: true }] : [])),
    ...others.map((find) => ({ find, isTrue: false })),
  ])
  const lines = ['\nreliability: stated certainty, true share']
  CERTAINTIES.forEach((low, at) => {
    const high = CERTAINTIES[at + 1] ?? 1.01
    const some = all.filter(({ find }) => find.confidence >= low && find.confidence < high)
    if (some.length === 0) return
    const stated = some.reduce((sum, { find }) => sum + find.confidence, 0) / some.length
    const trueCount = some.filter(({ isTrue }) => isTrue).length
    const bar = '#'.repeat(Math.round((BAR_CHARACTERS * trueCount) / some.length)).padEnd(BAR_CHARACTERS + 1)
    const mark = Math.round(BAR_CHARACTERS * stated)
    lines.push(`  ${stated.toFixed(3)}  ${bar.slice(0, mark)}|${bar.slice(mark + 1)}  ${share(trueCount, some.length)}`)
  })
  for (const kind of ['noise', 'tone', 'click'] as const) {
    const some = all.filter(
      ({ find }) =>
        certaintyOf(find.confidence) === 'certain' && find.names.some((name) => kindByName.get(name) === kind),
    )
    lines.push(`  certain, ${kind.padEnd(6)} ${share(some.filter(({ isTrue }) => isTrue).length, some.length)}`)
  }
  return lines
}

function startError(laid: Laid, find: Detection): number {
  return find.startS - find.fromS / find.speed - (laid.startS - laid.fromS / laid.speed)
}

function tally(pairs: Scored['pairs'], classOf: (pair: Scored['pairs'][number]) => string): string {
  const classes = new Map<string, { found: number; all: number }>()
  for (const pair of pairs) {
    const count = classes.get(classOf(pair)) ?? { found: 0, all: 0 }
    count.all++
    if (pair.find) count.found++
    classes.set(classOf(pair), count)
  }
  return [...classes]
    .sort(([a], [b]) => Number.parseFloat(a) - Number.parseFloat(b))
    .map(([name, { found, all }]) => `${name}: ${found}/${all}`)
    .join('   ')
}

function lengthClass(seconds: number): string {
  return seconds < 0.3 ? '0.15-0.3' : seconds < 1 ? '0.3-1' : seconds < 3 ? '1-3' : '3-20'
}

/** "3 of 4 (75.0 %)". */
export function share(part: number, all: number): string {
  return all === 0 ? '0 of 0' : `${part} of ${all} (${((100 * part) / all).toFixed(1)} %)`
}

function median(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[values.length >> 1] ?? 0
}
