import { BREAKDOWN_HOP, decibels, median, type SegmentKind, SILENCE_DB } from './breakdown-steps'
import { bandEdgeHz, CELL_BANDS } from './cells'
import { HEARING_RATE_HZ } from './constants'
import { novelSteps } from './novel-steps'

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
/** What is new lasts at least so many steps (128 ms); what is new again before so many have passed is one event. It stands out where a band is so much louder than usual, dB. */
const NOVEL_STEPS = 4
const NOVEL_GAP_STEPS = 8
const NOVEL_BAND_DB = 3
/** What stands out again before so many steps have passed is one event. */
const EVENT_GAP_STEPS = 4
/** Over music an event is a beat when so many like it lie within five seconds, no more than this apart in level, dB. */
const BEATS_MIN = 2
const BEAT_STEPS = 156
const BEAT_LEVEL_DB = 12

export interface StepLevels {
  /** Power of each band, dB relative to full scale, step by step. */
  readonly levels: Float32Array
  /** Share of power in narrow peaks. */
  readonly tonal: Float32Array
  /** Power of all bands, dB. */
  readonly total: Float32Array
  readonly kinds: readonly SegmentKind[]
  /** Steps at and near voices and what is explained. */
  readonly guard: Uint8Array
}

/** What stands out of its surroundings or is new in the track, away from what is guarded. */
export function unexplainedEvents(steps: StepLevels): UnexplainedEvent[] {
  return joined([...outstandingEvents(steps), ...novelEvents(steps)]).map(({ from, to, low, high, power }) => ({
    startS: (from * BREAKDOWN_HOP) / HEARING_RATE_HZ,
    endS: (to * BREAKDOWN_HOP) / HEARING_RATE_HZ,
    lowHz: Math.round(bandEdgeHz(low)),
    highHz: Math.round(bandEdgeHz(high + 1)),
    levelDb: decibels(power),
  }))
}

/** What is suddenly louder than what is around it. */
function outstandingEvents({ levels, kinds, guard, total }: StepLevels): BandEvent[] {
  const events: BandEvent[] = []
  const bed = bedLevels(levels, kinds.length)
  for (let step = 0; step < kinds.length; step++) {
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
    addTo(events, { from: step, to: step + 1, low, high, power }, EVENT_GAP_STEPS)
  }
  const lasting = events.filter(({ from, to }) => to - from >= EVENT_STEPS)
  return lasting.filter((event) => kinds[event.from] !== 'music' || !isBeat(event, lasting))
}

/** What the rest of the track does not bring, loud or not. */
function novelEvents({ levels, tonal, total, guard }: StepLevels): BandEvent[] {
  const apart = guard.map((flag, step) => (flag || (total[step] as number) < SILENCE_DB ? 1 : 0))
  const { flags, bands } = novelSteps({ levels, tonal, apart })
  const runs: BandEvent[] = []
  flags.forEach((flag, step) => {
    if (flag && (total[step] as number) >= EVENT_LEVEL_DB)
      addTo(runs, { from: step, to: step + 1, low: 0, high: CELL_BANDS - 1, power: 0 }, NOVEL_GAP_STEPS)
  })
  return runs
    .filter(({ from, to }) => to - from >= NOVEL_STEPS)
    .map(({ from, to }) => {
      const meanBeyondDb = bands.map((band) => band.subarray(from, to).reduce((sum, dB) => sum + dB, 0) / (to - from))
      const louder = meanBeyondDb.flatMap((dB, band) => (dB >= NOVEL_BAND_DB ? [band] : []))
      const those = louder.length > 0 ? louder : meanBeyondDb.map((_, band) => band)
      const powerAt = (step: number): number =>
        those.reduce((sum, band) => sum + 10 ** ((levels[step * CELL_BANDS + band] as number) / 10), 0)
      const power = Math.max(...Array.from({ length: to - from }, (_, k) => powerAt(from + k)))
      return { from, to, low: Math.min(...those), high: Math.max(...those), power }
    })
}

/** Adds an event, or makes the last one longer by it. */
function addTo(events: BandEvent[], event: BandEvent, gapSteps: number): void {
  const last = events.at(-1)
  if (!last || event.from - last.to >= gapSteps) events.push(event)
  else
    events[events.length - 1] = {
      from: last.from,
      to: Math.max(last.to, event.to),
      low: Math.min(last.low, event.low),
      high: Math.max(last.high, event.high),
      power: Math.max(last.power, event.power),
    }
}

/** Events in their order; those that meet are one. */
function joined(events: readonly BandEvent[]): BandEvent[] {
  const all: BandEvent[] = []
  for (const event of [...events].sort((a, b) => a.from - b.from)) addTo(all, event, EVENT_GAP_STEPS)
  return all
}

interface BandEvent {
  readonly from: number
  readonly to: number
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
      const middle = median(around)
      for (let other = step; other < Math.min(steps, step + 8); other++) bed[other * CELL_BANDS + band] = middle
    }
  }
  return bed
}
