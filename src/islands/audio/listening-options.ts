import type { TimeRange } from '../../core/time-range'
/** How the creator listens; kept from visit to visit. */
export interface ListeningOptions {
  /** Every sound at the same loudness, so that the loudest does not win. */
  readonly matched: boolean
  readonly rate: number
  readonly mono: boolean
  /** The marked part over and over. */
  readonly loopPart: boolean
  /** The next result follows by itself. */
  readonly playOn: boolean
  /** Pointing at a print plays it. */
  readonly hover: boolean
}

export const DEFAULT_OPTIONS: ListeningOptions = {
  matched: true,
  rate: 1,
  mono: false,
  loopPart: false,
  playOn: false,
  hover: false,
}

export const RATES: readonly number[] = [0.5, 0.75, 1, 1.25, 1.5, 2]

const KEY = 'listening'

/** Reads what was kept; anything that is not understood is as if it had not been there. */
export function savedOptions(storage: Pick<Storage, 'getItem'>): ListeningOptions {
  try {
    const kept = JSON.parse(storage.getItem(KEY) ?? '{}') as Record<string, unknown>
    const known = Object.entries(DEFAULT_OPTIONS).map(([key, value]) => [
      key,
      typeof kept[key] === typeof value ? kept[key] : value,
    ])
    const options = Object.fromEntries(known) as ListeningOptions
    return { ...options, rate: RATES.includes(options.rate) ? options.rate : 1 }
  } catch {
    return DEFAULT_OPTIONS
  }
}

export function saveOptions(storage: Pick<Storage, 'setItem'>, options: ListeningOptions): void {
  storage.setItem(KEY, JSON.stringify(options))
}

/** Loudness at which sounds are heard when they are matched, LUFS: low enough that few have to be raised. */
export const MATCHED_LUFS = -24
/** A very quiet sound is raised by this much at most, dB: its noise comes with it. */
const RAISED_MAX_DB = 14
const LOWERED_MAX_DB = 30

/**
 * Gain at which a sound is played, dB.
 *
 * @param loudnessLufs After ITU-R BS.1770, or null where it is not measured: then it is left alone.
 */
export function listeningGainDb(loudnessLufs: number | null, matched: boolean): number {
  if (!matched || loudnessLufs === null) return 0
  return Math.max(-LOWERED_MAX_DB, Math.min(RAISED_MAX_DB, MATCHED_LUFS - loudnessLufs))
}

/** Shortest part that can be marked, s. */
const PART_MIN_S = 0.02

/** Marks the start of a part; where it would come behind the end, the part reaches to the end of the sound. */
export function startedAt(part: TimeRange | null, atS: number, durationS: number): TimeRange {
  const endS = part && part.endS > atS + PART_MIN_S ? part.endS : durationS
  return { startS: Math.min(atS, Math.max(0, endS - PART_MIN_S)), endS }
}

/** Marks the end of a part; where it would come before the start, the part begins at the start of the sound. */
export function endedAt(part: TimeRange | null, atS: number): TimeRange {
  const startS = part && part.startS < atS - PART_MIN_S ? part.startS : 0
  return { startS, endS: Math.max(atS, startS + PART_MIN_S) }
}

/** The newest first, each sound once. */
export function heardBefore<T extends { readonly id: number }>(heard: readonly T[], sound: T, max = 100): T[] {
  return [sound, ...heard.filter(({ id }) => id !== sound.id)].slice(0, max)
}
