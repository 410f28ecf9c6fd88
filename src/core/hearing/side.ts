import { joinedRanges, type TimeRange } from '../time-range'
import { HEARING_RATE_HZ, WINDOW_FRAMES } from './constants'
import type { PreparedWindow } from './correlate'
import type { Opposition } from './opposed'
import type { SearchPlan } from './plan'
import type { PreparedSound } from './prepare'
import type { RawDetection, Searcher } from './search'
import type { Track } from './track'

/*
 * What opposes itself on left and right is in the side and not in the middle. The side is searched as the middle is, for each sound also turned over: which way up it
 * lies there goes with which of left and right is the one turned over.
 */

/** How much of the track around an opposed stretch is searched with it, s: a sound may begin before it, and chance is learned from what is beside it. */
const AROUND_S = 8
/** A balance no further than this from that of the file is that of the file. */
const AS_IN_FILE = 0.1

/** Stretches of a track in which its side is searched: around those in which left and right oppose each other, none longer than a window holds. */
export function sideWindows(
  frames: number,
  { opposed, partlyOpposed }: Opposition,
): { readonly start: number; readonly frames: number }[] {
  const around = ({ startS, endS }: TimeRange): TimeRange => ({ startS: startS - AROUND_S, endS: endS + AROUND_S })
  return joinedRanges([...opposed, ...partlyOpposed].map(around)).flatMap(({ startS, endS }) => {
    const first = Math.max(0, Math.round(startS * HEARING_RATE_HZ))
    const end = Math.min(frames, Math.round(endS * HEARING_RATE_HZ))
    const count = Math.ceil((end - first) / WINDOW_FRAMES)
    return Array.from({ length: count }, (_, k) => {
      const start = first + k * WINDOW_FRAMES
      return { start, frames: Math.min(WINDOW_FRAMES, end - start) }
    })
  })
}

/**
 * Searches the side of a track.
 *
 * @param exchanged The track with middle and side exchanged, and `windows` prepared of that.
 * @returns As of a search of the middle, with the levels on left and right.
 */
export function searchSide(
  searcher: Searcher,
  exchanged: Track,
  windows: readonly PreparedWindow[],
  sounds: readonly (PreparedSound | null)[],
  plan: SearchPlan,
): RawDetection[] {
  return [asInSide, turnedOverSound].flatMap((made) =>
    searcher
      .search(
        exchanged,
        windows,
        sounds.map((sound) => sound && made(sound)),
        plan,
      )
      .map((find) => withLevelsOf(find, sounds[find.soundIndex] as PreparedSound)),
  )
}

/** Samples with their sign turned. */
export function turnedOver(samples: Float32Array): Float32Array {
  return samples.map((value) => -value)
}

/** What of a sound is looked for in the side: its middle. What its own side holds has to do with its level alone. */
function asInSide(sound: PreparedSound): PreparedSound {
  return { ...sound, sideOfMid: 0 }
}

function turnedOverSound({ samples, pieces, marks }: PreparedSound): PreparedSound {
  return {
    samples: turnedOver(samples),
    sideOfMid: 0,
    pieces: pieces.map((piece) => ({ ...piece, samples: turnedOver(piece.samples) })),
    marks,
  }
}

/** With level and balance against left and right of the sound's file. Which of the two is turned over is not told. */
function withLevelsOf(find: RawDetection, { sideOfMid }: PreparedSound): RawDetection {
  if (Math.abs(find.balance + sideOfMid) < AS_IN_FILE)
    return { ...find, inSide: true, gain: find.gain / Math.sqrt(1 + sideOfMid ** 2), balance: 0 }
  const each = find.gain / Math.sqrt(1 + find.balance ** 2)
  const left = (each * (1 - find.balance)) / Math.max(0.1, 1 + sideOfMid)
  const right = (each * (1 + find.balance)) / Math.max(0.1, 1 - sideOfMid)
  return {
    ...find,
    inSide: true,
    gain: Math.sqrt((left * left + right * right) / 2),
    balance: (right - left) / (left + right || 1),
  }
}
