/** Frames a second as a fraction: 30000/1001 is 29.97. */
export interface FrameRate {
  readonly num: number
  readonly den: number
}

/** Rates that films and videos have, with what they are called. */
export const FRAME_RATES: readonly (FrameRate & { readonly name: string })[] = [
  { num: 24000, den: 1001, name: '23.976' },
  { num: 24, den: 1, name: '24' },
  { num: 25, den: 1, name: '25' },
  { num: 30000, den: 1001, name: '29.97' },
  { num: 30, den: 1, name: '30' },
  { num: 48, den: 1, name: '48' },
  { num: 50, den: 1, name: '50' },
  { num: 60000, den: 1001, name: '59.94' },
  { num: 60, den: 1, name: '60' },
]

/** What a sound without a picture is counted in. */
export const DEFAULT_FRAME_RATE: FrameRate = { num: 25, den: 1 }

/** A measured rate this near to a usual one, as a fraction of it, is that one. */
const SAME_RATE = 0.0005
/** A time this little before the start of a frame lies in it, frames: times of frames are rounded by containers. */
const EARLY_FRAMES = 0.01

export function framesPerS({ num, den }: FrameRate): number {
  return num / den
}

export function frameS({ num, den }: FrameRate): number {
  return den / num
}

/** Frames that a second of timecode counts: 30 for 29.97. */
export function nominalRate(rate: FrameRate): number {
  return Math.max(1, Math.round(framesPerS(rate)))
}

/** The usual rate that a measured one is, or the measured one as a fraction. @param perS Frames a second, over 0. */
export function nearestFrameRate(perS: number): FrameRate {
  const usual = FRAME_RATES.find((rate) => Math.abs(framesPerS(rate) / perS - 1) < SAME_RATE)
  return usual ? { num: usual.num, den: usual.den } : { num: Math.max(1, Math.round(perS * 1000)), den: 1000 }
}

/** Whether timecode at a rate may drop numbers to keep up with the clock: at 29.97 and 59.94. */
export function mayDropFrames(rate: FrameRate): boolean {
  return rate.den === 1001 && (nominalRate(rate) === 30 || nominalRate(rate) === 60)
}

/** "25", "29.97", "12.5". */
export function rateName(rate: FrameRate): string {
  const usual = FRAME_RATES.find(({ num, den }) => num * rate.den === rate.num * den)
  return usual?.name ?? String(Number(framesPerS(rate).toFixed(3)))
}

/** Number of the frame that is shown at a time, from 0. @param timeS Not negative. */
export function frameAt(timeS: number, rate: FrameRate): number {
  return Math.max(0, Math.floor(timeS * framesPerS(rate) + EARLY_FRAMES))
}

/** When a frame begins, s. */
export function frameStartS(frame: number, rate: FrameRate): number {
  return (frame * rate.den) / rate.num
}

/** Start of the frame that begins nearest to a time, s. */
export function nearestFrameS(timeS: number, rate: FrameRate): number {
  return frameStartS(Math.max(0, Math.round(timeS * framesPerS(rate))), rate)
}

/** Numbers that are left out each minute but each tenth. */
function droppedPerMinute(rate: FrameRate): number {
  return nominalRate(rate) / 15
}

/**
 * Timecode of a frame: "00:01:00:02"; with dropped numbers "00:01:00;02".
 *
 * @param frame Counted from 0. @param drop Whether numbers are dropped; only where {@link mayDropFrames}.
 * Source of the drop-frame count: SMPTE ST 12-1.
 */
export function timecodeOf(frame: number, rate: FrameRate, drop = false): string {
  const nominal = nominalRate(rate)
  const drops = drop && mayDropFrames(rate)
  let number = frame
  if (drops) {
    const dropped = droppedPerMinute(rate)
    const perMinute = 60 * nominal - dropped
    const perTen = 10 * perMinute + dropped
    const rest = frame % perTen
    number += 9 * dropped * Math.floor(frame / perTen)
    if (rest >= dropped) number += dropped * Math.floor((rest - dropped) / perMinute)
  }
  const two = (value: number): string => String(value).padStart(2, '0')
  const seconds = Math.floor(number / nominal)
  const clock = [Math.floor(seconds / 3600), Math.floor(seconds / 60) % 60, seconds % 60].map(two).join(':')
  return `${clock}${drops ? ';' : ':'}${two(number % nominal)}`
}

/** The timecode of the frame that is shown at a time. */
export function timecodeAt(timeS: number, rate: FrameRate, drop = false): string {
  return timecodeOf(frameAt(timeS, rate), rate, drop)
}

/** Timecode of the frame at a time, without hours where there are none. */
export function shortTimecode(timeS: number, rate: FrameRate, drop: boolean): string {
  const code = timecodeAt(timeS, rate, drop)
  return code.startsWith('00:') ? code.slice(3) : code
}

/** How a timecode could not be read. */
export type TimecodeProblem = 'not-timecode' | 'frame-too-high' | 'dropped-number'

/**
 * The frame that a timecode names.
 *
 * @param text "HH:MM:SS:FF", with ";" or "." before the frames where numbers are dropped.
 * @param drop Whether numbers are dropped though it is written with ":".
 */
export function frameOfTimecode(
  text: string,
  rate: FrameRate,
  drop = false,
): { readonly frame: number } | { readonly problem: TimecodeProblem } {
  const match = /^(\d{1,2}):([0-5]\d):([0-5]\d)([:;.])(\d{2,3})$/.exec(text.trim())
  if (!match) return { problem: 'not-timecode' }
  const nominal = nominalRate(rate)
  const [hours, minutes, seconds] = match.slice(1, 4).map(Number) as [number, number, number]
  const frames = Number(match[5])
  if (frames >= nominal) return { problem: 'frame-too-high' }
  const number = ((hours * 60 + minutes) * 60 + seconds) * nominal + frames
  if (!mayDropFrames(rate) || !(drop || match[4] === ';')) return { frame: number }
  const dropped = droppedPerMinute(rate)
  if (frames < dropped && seconds === 0 && minutes % 10 !== 0) return { problem: 'dropped-number' }
  const allMinutes = hours * 60 + minutes
  return { frame: number - dropped * (allMinutes - Math.floor(allMinutes / 10)) }
}

/**
 * A time as people write it: "1:02:03.4", "23.4", "0:23,5" or "7 s".
 *
 * @returns Seconds, or null for what is no time.
 */
export function secondsOfClock(text: string): number | null {
  const match = /^(-?)(?:(?:(\d{1,3}):)?(\d{1,4}):)?(\d{1,6})(?:[.,](\d{1,9}))?\s?s?$/.exec(text.trim())
  if (!match) return null
  const [, sign, hours = '0', minutes = '0', seconds = '0', part = ''] = match
  const value = Number(hours) * 3600 + Number(minutes) * 60 + Number(seconds) + Number(`0.${part || '0'}`)
  return sign === '-' ? -value : value
}
