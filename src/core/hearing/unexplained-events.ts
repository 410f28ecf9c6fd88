import { BREAKDOWN_HOP, decibels, type SegmentKind } from './breakdown-steps'
import { bandEdgeHz, CELL_BANDS } from './cells'
import { HEARING_RATE_HZ } from './constants'

/** Something that begins and ends in the track and is none of the sounds that were listened for. */
export interface UnexplainedEvent {
  readonly startS: number
  readonly endS: number
  /** Where in the spectrum it stands out, Hz. */
  readonly lowHz: number
  readonly highHz: number
  /** Level of what stands out, dB relative to full scale. */
  readonly levelDb: number
}

/** The bed is the median level over this many steps to each side (1.6 s). */
const BED_STEPS = 50
/** By how much an event stands out of the bed, dB: more over music, where notes begin, and in so many bands. */
const EVENT_MIN_DB = 10
const EVENT_OVER_MUSIC_DB = 20
const EVENT_BANDS = 3
/** An event is louder than this, dB relative to full scale, and lasts at least so many steps (64 ms). */
const EVENT_LEVEL_DB = -52
const EVENT_STEPS = 2
/** What stands out again before so many steps have passed is one event. */
const EVENT_GAP_STEPS = 4
/** Over music an event is a beat when so many like it lie within five seconds, no more than this apart in level, dB. */
const BEATS_MIN = 2
const BEAT_STEPS = 156
const BEAT_LEVEL_DB = 12

/** What stands out of its surroundings, away from what is guarded. @param levels Of each band, dB, step by step. @param total Of all bands. */
export function unexplainedEvents(
  levels: Float32Array,
  kinds: readonly SegmentKind[],
  guard: Uint8Array,
  total: Float32Array,
): UnexplainedEvent[] {
  const steps = kinds.length
  const events: (BandEvent & { to: number; low: number; high: number; power: number })[] = []
  const bed = bedLevels(levels, steps)
  for (let step = 0; step < steps; step++) {
    if (guard[step] || (total[step] as number) < EVENT_LEVEL_DB) continue
    const least = kinds[step] === 'music' ? EVENT_OVER_MUSIC_DB : EVENT_MIN_DB
    let low = CELL_BANDS
    let high = -1
    let bands = 0
    let power = 0
    for (let band = 0; band < CELL_BANDS; band++) {
      const i = step * CELL_BANDS + band
      if ((levels[i] as number) < Math.max((bed[i] as number) + least, EVENT_LEVEL_DB - 10)) continue
      bands++
      low = Math.min(low, band)
      high = band
      power += 10 ** ((levels[i] as number) / 10)
    }
    if (bands < EVENT_BANDS || decibels(power) < EVENT_LEVEL_DB) continue
    const last = events[events.length - 1]
    if (last && step - last.to < EVENT_GAP_STEPS) {
      Object.assign(last, { to: step + 1, low: Math.min(last.low, low), high: Math.max(last.high, high) })
      last.power = Math.max(last.power, power)
    } else events.push({ from: step, to: step + 1, low, high, power })
  }
  const lasting = events.filter(({ from, to }) => to - from >= EVENT_STEPS)
  return lasting
    .filter((event) => kinds[event.from] !== 'music' || !isBeat(event, lasting))
    .map(({ from, to, low, high, power }) => ({
      startS: (from * BREAKDOWN_HOP) / HEARING_RATE_HZ,
      endS: (to * BREAKDOWN_HOP) / HEARING_RATE_HZ,
      lowHz: Math.round(bandEdgeHz(low)),
      highHz: Math.round(bandEdgeHz(high + 1)),
      levelDb: decibels(power),
    }))
}

interface BandEvent {
  readonly from: number
  readonly low: number
  readonly high: number
  readonly power: number
}

/** Whether events like this one come again and again around it: then it is the music's own. */
function isBeat(event: BandEvent, events: readonly BandEvent[]): boolean {
  const alike = events.filter(
    (other) =>
      other !== event &&
      Math.abs(other.from - event.from) < BEAT_STEPS &&
      Math.abs(decibels(other.power) - decibels(event.power)) < BEAT_LEVEL_DB &&
      Math.min(other.high, event.high) - Math.max(other.low, event.low) >= 1,
  )
  return alike.length >= BEATS_MIN
}

/** Median of each band around each step; every eighth step is computed, and holds for the next seven. */
function bedLevels(levels: Float32Array, steps: number): Float32Array {
  const bed = new Float32Array(levels.length)
  for (let step = 0; step < steps; step += 8) {
    const from = Math.max(0, step - BED_STEPS)
    const to = Math.min(steps, step + BED_STEPS)
    for (let band = 0; band < CELL_BANDS; band++) {
      const around = new Float32Array(Math.ceil((to - from) / 2))
      for (let k = 0; k < around.length; k++) around[k] = levels[(from + 2 * k) * CELL_BANDS + band] as number
      around.sort()
      const middle = around[around.length >> 1] as number
      for (let other = step; other < Math.min(steps, step + 8); other++) bed[other * CELL_BANDS + band] = middle
    }
  }
  return bed
}
