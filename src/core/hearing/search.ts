import { type PiecePeak, piecePeaks } from './candidates'
import { CellTransform } from './cells'
import { HEARING_RATE_HZ, PART_MIN_S } from './constants'
import { Correlator, type PreparedTrack } from './correlate'
import type { Piece, PreparedSound } from './prepare'
import { type Verification, Verifier } from './verify'

/** A place in a track where a sound is heard, before rival finds are settled. */
export interface RawDetection {
  /** Index into the list of sounds that was searched. */
  readonly soundIndex: number
  /** Frame of the track where frame 0 of the sound falls, at the hearing rate. */
  readonly lag: number
  /** Part of the sound that is heard, frames. */
  readonly from: number
  readonly to: number
  readonly gain: number
  /** How far the find stands out of chance: the weaker of matched filter and agreement. */
  readonly score: number
}

/** Pieces of one sound whose implied starts differ by less than this belong together, frames (2 ms). */
const SAME_LAG_FRAMES = 32
/** Agreement reads lower than the matched filter for true finds; this makes them comparable. Measured. */
const COHERENCE_WEIGHT = 1.3
/** Nothing under this is kept even as a candidate. */
const SCORE_MIN = 6
/** At most this many places are verified for each sound and minute of track, best first. */
const VERIFY_PER_MINUTE = 8

type Candidate = PiecePeak

/** Searches sounds in tracks. One instance a thread. */
export class Searcher {
  private readonly correlator = new Correlator()
  private readonly cells = new CellTransform()

  /**
   * Finds every place where the sounds are heard.
   *
   * @param sounds Null entries (silent or too short) are passed over; indices stay those of this list.
   * @returns Detections with a score of at least 6, in no order; overlapping rivals are not yet settled.
   */
  search(track: PreparedTrack, sounds: readonly (PreparedSound | null)[]): RawDetection[] {
    const queue = sounds.flatMap((sound, soundIndex) => (sound?.pieces ?? []).map((piece) => ({ piece, soundIndex })))
    const peaks = sounds.map((): PiecePeak[] => [])
    for (let i = 0; i < queue.length; i += 2) {
      const pair = queue.slice(i, i + 2)
      const second: Piece | null = pair[1]?.piece ?? null
      const summaries = this.correlator.summaries(track, (pair[0] as { piece: Piece }).piece, second)
      summaries.forEach((summary, k) => {
        const { piece, soundIndex } = pair[k] as { piece: Piece; soundIndex: number }
        peaks[soundIndex]?.push(...piecePeaks(summary, piece))
      })
    }
    return sounds.flatMap((sound, soundIndex) =>
      sound ? this.verified(track, sound, soundIndex, mergedPeaks(peaks[soundIndex] as PiecePeak[])) : [],
    )
  }

  private verified(
    track: PreparedTrack,
    sound: PreparedSound,
    soundIndex: number,
    candidates: readonly Candidate[],
  ): RawDetection[] {
    if (candidates.length === 0) return []
    const verifier = new Verifier(this.cells, sound.samples, SCORE_MIN / COHERENCE_WEIGHT)
    const minutes = Math.max(1, track.samples.length / HEARING_RATE_HZ / 60)
    const found: RawDetection[] = []
    for (const candidate of candidates.slice(0, Math.ceil(VERIFY_PER_MINUTE * minutes))) {
      if (found.some((other) => Math.abs(other.lag - candidate.lag) < SAME_LAG_FRAMES * 8)) continue
      const verification = verifier.verify(track.samples, candidate.lag, {
        from: candidate.pieceFrom,
        to: candidate.pieceTo,
      })
      if (!verification) continue
      const score = combinedScore(candidate, verification)
      if (score < SCORE_MIN || partTooShort(verification, sound)) continue
      const { from, to, gain } = verification
      found.push({ soundIndex, lag: candidate.lag, from, to, gain, score })
    }
    return found
  }
}

/** A short part must be all of a short sound, or it was fitted too freely. */
function partTooShort({ from, to }: Verification, sound: PreparedSound): boolean {
  const whole = to - from >= 0.9 * sound.samples.length
  return to - from < (whole ? PART_MIN_S * 0.8 : 0.2) * HEARING_RATE_HZ
}

function combinedScore(candidate: Candidate, { evidence, coherence }: Verification): number {
  const likelihood = Math.sqrt(2 * Math.max(0, evidence))
  return Math.min(candidate.z, COHERENCE_WEIGHT * coherence, likelihood)
}

/** Peaks of different pieces that agree on the start of the sound raise each other a little. */
function mergedPeaks(peaks: readonly PiecePeak[]): Candidate[] {
  const merged: { strongest: PiecePeak; extra: number }[] = []
  for (const peak of [...peaks].sort((a, b) => b.z - a.z)) {
    const near = merged.find((other) => Math.abs(other.strongest.lag - peak.lag) < SAME_LAG_FRAMES)
    if (near) near.extra += peak.z * peak.z
    else merged.push({ strongest: peak, extra: 0 })
  }
  return merged
    .map(({ strongest, extra }) => ({ ...strongest, z: Math.sqrt(strongest.z * strongest.z + extra / 2) }))
    .sort((a, b) => b.z - a.z)
}
