import { moments as messages } from '../wording/moments'
import type { MomentKind } from './moment'

/** The place that a sound would have. */
export interface PlaceForSound {
  readonly kind: MomentKind
  /** Length of the span, s; null for an instant. */
  readonly spanS: number | null
  /** Until the next moment or shot change, s; null where nothing comes. */
  readonly roomS: number | null
  /** From the last moment or shot change to this one, s: room for what leads up to it. */
  readonly leadS: number | null
  /** Loudness of the cut there, LUFS; null where it is silent. */
  readonly cutLufs: number | null
}

/** How a sound would fit a place. */
export interface PlaceFit {
  readonly length: 'fits' | 'too-long' | 'too-short'
  /** "2.1 s, 0.4 s too long". */
  readonly lengthWords: string
  /** "hit after 0.3 s". */
  readonly hitWords: string
  /** What it is turned by to sit at its level to the cut, dB; null where either is unknown. */
  readonly gainDb: number | null
  /** 0 to 1, for the order. */
  readonly score: number
}

/** Where a sound of each kind usually lies to what else is heard, LU. */
const LEVEL_TO_CUT_LU: Readonly<Record<MomentKind, number>> = {
  hit: 0,
  swell: -4,
  spot: -6,
  ambience: -18,
  music: -14,
  silence: -60,
}
/** Without anything in the cut, sounds are set by this, LUFS. */
const LONELY_LUFS = -24
/** So much longer or shorter than its place is no matter, as a fraction of it. */
const SLACK = 0.15
/** Turned up by more than this, what is soft of a sound turns to noise, dB. */
const GAIN_MAX_DB = 18

/** How a sound fits: its length to the span or the room, where its hit comes, and by what it is turned. */
export function placeFit(
  sound: { readonly durationS: number; readonly hitS: number | null; readonly loudnessLufs: number | null },
  place: PlaceForSound,
): PlaceFit {
  const { kind, spanS, roomS, leadS, cutLufs } = place
  const hitS = sound.hitS ?? 0
  const isLed = kind === 'swell'
  // A swell ends with its hit at the moment; everything else begins a little before it.
  const wantedS = spanS ?? (isLed ? leadS : roomS)
  const lengthS = isLed ? hitS : spanS === null ? sound.durationS - hitS : sound.durationS
  const overS = wantedS === null ? 0 : lengthS - wantedS
  const isLong = wantedS !== null && overS > SLACK * wantedS + 0.1
  // Only a span has to be filled.
  const isShort = spanS !== null && -overS > SLACK * spanS + 0.1
  const length = isLong ? 'too-long' : isShort ? 'too-short' : 'fits'
  const gainDb =
    sound.loudnessLufs === null
      ? null
      : Math.round(
          ((cutLufs ?? LONELY_LUFS) + (cutLufs === null ? 0 : LEVEL_TO_CUT_LU[kind]) - sound.loudnessLufs) * 2,
        ) / 2
  const lengthScore = length === 'fits' ? 1 : wantedS ? Math.max(0, 1 - Math.abs(overS) / wantedS) * 0.7 : 0.5
  const inWords = `${sound.durationS.toFixed(1)} s`
  const levelScore = gainDb === null || gainDb <= GAIN_MAX_DB ? 1 : 0.5
  return {
    length,
    lengthWords:
      length === 'fits'
        ? inWords
        : (isLong ? messages.tooLong : messages.tooShort)(inWords, Math.abs(overS).toFixed(1)),
    hitWords: sound.hitS === null ? messages.noHit : messages.hitAfterS(hitS.toFixed(1)),
    gainDb,
    score: lengthScore * levelScore,
  }
}

/** Where the hit of a sound meets a moment, s: a swell leads up to the end of its span, everything else begins with it. */
export function meetingS({
  kind,
  atS,
  endS,
}: {
  readonly kind: MomentKind
  readonly atS: number
  readonly endS: number | null
}): number {
  return kind === 'swell' && endS !== null ? endS : atS
}

/** Times that the place of a moment ends at: of all moments, and of the shot changes of a picture, s. */
export function neighbourTimes(
  moments: readonly { readonly atS: number }[],
  events: readonly { readonly kind: string; readonly timeS: number }[],
): number[] {
  return [
    ...moments.map(({ atS }) => atS),
    ...events.flatMap(({ kind, timeS }) => (kind === 'shot-change' ? [timeS] : [])),
  ]
}

/**
 * The place of a moment between its neighbours.
 *
 * @param others Times of other moments and of shot changes, s, in any order.
 */
export function placeOfMoment(
  moment: { readonly kind: MomentKind; readonly atS: number; readonly endS: number | null },
  others: readonly number[],
  { durationS, cutLufs }: { readonly durationS: number; readonly cutLufs: number | null },
): PlaceForSound {
  const after = others.filter((timeS) => timeS > moment.atS + 0.05)
  const before = others.filter((timeS) => timeS < moment.atS - 0.05)
  return {
    kind: moment.kind,
    spanS: moment.endS === null ? null : moment.endS - moment.atS,
    roomS: Math.min(durationS, ...after) - moment.atS,
    leadS: moment.atS - Math.max(0, ...before),
    cutLufs,
  }
}

/**
 * Loudness around a time: the mean energy of the momentary values of a second.
 *
 * @param momentaryLufs Ten values a second. @returns LUFS, or null where all of it is silent.
 */
export function loudnessAround(momentaryLufs: ArrayLike<number>, timeS: number): number | null {
  let sum = 0
  let count = 0
  for (
    let step = Math.max(0, Math.floor(timeS * 10) - 4);
    step <= timeS * 10 + 6 && step < momentaryLufs.length;
    step++
  ) {
    const value = momentaryLufs[step] as number
    if (!(value > -70)) continue
    sum += 10 ** (value / 10)
    count++
  }
  return count === 0 ? null : 10 * Math.log10(sum / count)
}
