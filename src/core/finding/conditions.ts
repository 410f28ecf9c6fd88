import type { Fit } from '../rights'
import { COST_KINDS, type Filter, SOUND_KINDS } from './filters'
import { type Names, NO, type Segment, YES } from './segment'

const FITS: readonly Fit[] = ['fits', 'fits-with-credit', 'does-not-fit', 'not-stated']

/** What the terms of each offer, and the papers of single sounds, say for the video in hand. */
export interface FitTable {
  /** Says when it is another one. */
  readonly key: string
  readonly byOffer: ReadonlyMap<string, Fit>
  readonly bySound: ReadonlyMap<number, Fit>
}

/** Fit of every sound of a segment as an index into the fits, 255 where nothing is weighed. */
export function fitColumn({ columns, count }: Segment, names: Names, table: FitTable): Uint8Array {
  const ofOffer = Uint8Array.from(names.offers.texts, (offer) => fitIndex(table.byOffer.get(offer)))
  const fits = new Uint8Array(count)
  for (let sound = 0; sound < count; sound++) fits[sound] = ofOffer[columns.offer[sound] as number] as number
  for (const [id, fit] of table.bySound) {
    const at = positionOf(columns.ids, id)
    if (at >= 0) fits[at] = fitIndex(fit)
  }
  return fits
}

export function fitAt(index: number): Fit | null {
  return FITS[index] ?? null
}

function fitIndex(fit: Fit | undefined): number {
  return fit === undefined ? 255 : FITS.indexOf(fit)
}

/** Position of an id among ids that rise; -1 when it is not there. */
export function positionOf(ids: Uint32Array, id: number): number {
  let low = 0
  let high = ids.length
  while (low < high) {
    const middle = (low + high) >>> 1
    if ((ids[middle] as number) < id) low = middle + 1
    else high = middle
  }
  return ids[low] === id ? low : -1
}

/** A test for one sound of a segment. */
export type Condition = (sound: number) => boolean

/**
 * Makes a condition ready for a segment. What is not known of a sound never meets a condition on it.
 *
 * @param fits Column of fits; null while no video is in hand: then nothing fits.
 */
export function conditionOf(
  filter: Exclude<Filter, { kind: 'words-in' }>,
  { columns }: Segment,
  names: Names,
  fits: Uint8Array | null,
): Condition {
  switch (filter.kind) {
    case 'length':
      return between(columns.durationS, filter.fromS, filter.toS)
    case 'tempo':
      return between(columns.tempoBpm, filter.fromBpm, filter.toBpm)
    case 'source':
      return oneOf(columns.source, named(names.sources.texts, filter.names))
    case 'category':
      return oneOf(columns.category, categoriesNamed(names.categories.texts, filter.names))
    case 'licence':
      return oneOf(columns.licence, named(names.licences.texts, filter.names))
    case 'maker':
      return oneOf(columns.maker, named(names.makers.texts, filter.names))
    case 'mood':
      return oneOf(columns.mood, [false, ...named(names.moods.texts, filter.names)])
    case 'type':
      return oneOf(
        columns.kind,
        SOUND_KINDS.map((kind) => filter.types.includes(kind)),
      )
    case 'cost':
      return costCondition(filter, columns)
    case 'fit':
      if (!fits) return () => false
      return oneOf(
        fits,
        FITS.map((fit) => filter.fits.includes(fit)),
      )
    case 'credit':
      return equals(columns.creditOwed, Number(filter.owed))
    case 'here':
      return equals(columns.here, Number(filter.is))
    case 'kept':
      return equals(columns.kept, Number(filter.is))
    case 'used':
      return (sound) => (columns.usedCount[sound] as number) > 0 === filter.is
    case 'channels':
      return filter.stereo ? (sound) => (columns.channels[sound] as number) > 1 : equals(columns.channels, 1)
    case 'loops':
      return equals(columns.loops, filter.is ? YES : NO)
    case 'vocals':
      return equals(columns.vocals, filter.has ? YES : NO)
    case 'added': {
      const day = dayOf(filter.since)
      return (sound) => (columns.addedDay[sound] as number) >= day
    }
  }
}

/** Days since 1970-01-01. @param date YYYY-MM-DD, or more behind it. */
export function dayOf(date: string): number {
  return Math.floor(Date.parse(`${date.slice(0, 10)}T00:00:00Z`) / 86_400_000)
}

function between(column: Float32Array, from: number | null, to: number | null): Condition {
  // A length that is shown as 2.0 s is not left out of "2 s to 5 s" for what rounding hides.
  const low = (from ?? 0) - ROUNDING
  const high = (to ?? Number.POSITIVE_INFINITY) + ROUNDING
  return (sound) => {
    const value = column[sound] as number
    return value >= low && value <= high
  }
}

const ROUNDING = 0.0005

function equals(column: Uint8Array, value: number): Condition {
  return (sound) => column[sound] === value
}

function oneOf(column: Uint8Array | Uint16Array | Uint32Array, wanted: readonly boolean[]): Condition {
  const table = Uint8Array.from(wanted, Number)
  return (sound) => table[column[sound] as number] === 1
}

function named(texts: readonly string[], wanted: readonly string[]): boolean[] {
  const names = new Set(wanted.map((name) => name.toLowerCase()))
  return texts.map((text) => names.has(text.toLowerCase()))
}

/** A category is named by its own name or by that of its group. */
function categoriesNamed(texts: readonly string[], wanted: readonly string[]): boolean[] {
  const names = new Set(wanted.map((name) => name.toLowerCase()))
  return texts.map((text) =>
    text
      .toLowerCase()
      .split('|')
      .some((part) => names.has(part)),
  )
}

function costCondition(
  { costs, upToMinor }: Extract<Filter, { kind: 'cost' }>,
  { cost, priceMinor }: Segment['columns'],
): Condition {
  const wanted = Uint8Array.from(COST_KINDS, (kind) => Number(costs.includes(kind)))
  const buy = COST_KINDS.indexOf('buy')
  return (sound) => {
    const kind = cost[sound] as number
    if (wanted[kind] !== 1) return false
    return kind !== buy || upToMinor === null || (priceMinor[sound] as number) <= upToMinor
  }
}
