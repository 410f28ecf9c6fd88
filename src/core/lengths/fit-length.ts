import type { AssemblyPiece } from '../score'
import type { TimeRange } from '../time-range'
import { bestLoop, bestSeam, type FoundSeam, PHASE_S } from './find-seam'
import { GOOD_QUALITY, gainOf, type SeamContext } from './seam'
import { FRAME_STEP_S, spectraOf, unlikeDb } from './spectra'
import { steadyPart } from './steady-part'

/** A sound that is to have another length. */
export interface FitRequest {
  /** Mono, full scale 1, the whole source. Not modified. */
  readonly samples: Float32Array
  readonly sampleRateHz: number
  /** Part that is heard, s of the source. */
  readonly fromS: number
  readonly toS: number
  /** Length that it is to have, before its speed, s. */
  readonly wantedS: number
  /** Length of a bar, s, for music that may jump by whole bars only. */
  readonly barS: number | null
}

/** How a sound was brought to a length. */
export interface FittedLength {
  /** Parts of the source one after the other; a single one where nothing had to be done. */
  readonly pieces: readonly AssemblyPiece[]
  /** Length that came of it, s: that which was asked for, but for music that keeps to its bars. */
  readonly lengthS: number
  /** How well the worst seam is hidden, 0 to 1; 1 without any. */
  readonly quality: number
  /** Whether no seam should be heard. Else it is the best that was found. */
  readonly isGood: boolean
  readonly seams: number
  readonly levelJumpDb: number
  readonly soundJumpDb: number
}

/** Bounds of what is asked for, s. */
export const FIT_LIMITS = { shortestS: 0.1, longestS: 2 * 3600 } as const

/** Jumps shorter than this are made by trimming the end, s. */
const LEAST_JUMP_S = 0.03
/** Room that the loop leaves for the last jump, whose length is what is left over, s. */
const LEFT_OVER_S = 0.2
/** A moment later, for how unlike a sound is to itself by nature, s: the frames do not overlap any more. */
const LATER_S = 0.08

/**
 * Makes a sound longer or shorter: its opening, its steady part over and over by a jump that is hardly heard, its ending. It is made shorter by one jump.
 *
 * @returns Null where there is no room for any jump.
 */
export function fitLength(request: FitRequest): FittedLength | null {
  const { samples, sampleRateHz, fromS, toS, wantedS, barS } = request
  const naturalS = toS - fromS
  const missingS = barS ? Math.round((wantedS - naturalS) / barS) * barS : wantedS - naturalS
  const whole = { fromS, toS, times: 1, seamS: 0 }
  if (Math.abs(missingS) < LEAST_JUMP_S)
    return fitted([{ ...whole, toS: Math.max(fromS + FIT_LIMITS.shortestS, toS + Math.min(0, missingS)) }], [])
  const context = contextOf(samples, sampleRateHz)
  const jumps = missingS > 0 ? longer(context, request, missingS) : shorter(context, request, missingS)
  if (jumps === null) return null
  return fitted(
    piecesOf(jumps, request, naturalS + missingS),
    jumps.map(({ seam }) => seam),
  )
}

interface Jump {
  readonly seam: FoundSeam
  readonly times: number
}

function contextOf(samples: Float32Array, sampleRateHz: number): SeamContext {
  const spectra = spectraOf(samples, sampleRateHz)
  const later = Math.round(LATER_S / FRAME_STEP_S)
  const changes: number[] = []
  for (let at = 0; at + later < spectra.frames; at++)
    if ((spectra.frameDb[at] as number) > -80) changes.push(unlikeDb(spectra, at, at + later))
  changes.sort((a, b) => a - b)
  return { samples, sampleRateHz, spectra, usualDb: changes[Math.floor(changes.length / 2)] ?? 0 }
}

/** The steady part within what is heard; all of it where there is none. */
function loopable({ spectra }: SeamContext, { fromS, toS }: FitRequest): TimeRange {
  const steady = steadyPart(spectra)
  const startS = Math.max(fromS, steady?.startS ?? fromS)
  const endS = Math.min(toS, steady?.endS ?? toS)
  return steady && endS - startS > 2 * LEFT_OVER_S ? { startS, endS } : { startS: fromS, endS: toS }
}

function longer(context: SeamContext, request: FitRequest, missingS: number): readonly Jump[] | null {
  const { barS, fromS, toS } = request
  const within = loopable(context, request)
  const roomS = within.endS - within.startS - 0.05
  const longestS = roomS - (barS ? 0 : LEFT_OVER_S)
  const moreS = barS ? 0 : PHASE_S
  const whole = { fromS, seamS: 0, toS }
  if (missingS <= roomS) {
    const once = bestSeam(context, { within, gainS: missingS, moreS, part: whole })
    if (once && once.quality >= GOOD_QUALITY) return [{ seam: once, times: 1 }]
  }
  const loop = bestLoop(context, { within, longestS: Math.min(longestS, missingS), barS, part: whole })
  if (!loop) return null
  const byS = gainOf(loop)
  const most = Math.floor(missingS / byS + 1e-6)
  const restS = (times: number): number => missingS - times * byS
  if (restS(most) <= LEAST_JUMP_S) return [{ seam: loop, times: most }]
  const part = { fromS: loop.inS, seamS: loop.seamS, toS }
  // A short jump is harder to hide than one that makes up for a loop as well; but there has to be room for it.
  const tries = restS(most) < LEFT_OVER_S && !barS ? [most - 1, most] : [most, most - 1]
  for (const times of tries) {
    if (times < 1 || restS(times) > roomS) continue
    const end = bestSeam(context, { within, gainS: restS(times), moreS, part })
    if (end)
      return [
        { seam: loop, times },
        { seam: end, times: 1 },
      ]
  }
  return [{ seam: loop, times: most + 1 }]
}

function shorter(context: SeamContext, { fromS, toS, barS }: FitRequest, missingS: number): readonly Jump[] | null {
  const seam = bestSeam(context, {
    within: { startS: fromS, endS: toS },
    gainS: missingS,
    moreS: barS ? 0 : PHASE_S,
    part: { fromS, seamS: 0, toS },
  })
  return seam ? [{ seam, times: 1 }] : null
}

/** The parts that a sound is heard in with its jumps; what it came out too long by is taken from its end. */
function piecesOf(jumps: readonly Jump[], { fromS, toS }: FitRequest, lengthS: number): AssemblyPiece[] {
  const pieces: AssemblyPiece[] = []
  let nextS = fromS
  let seamS = 0
  let heardS = 0
  const add = (endS: number, times: number): void => {
    const piece = { fromS: nextS, toS: endS, times, seamS }
    heardS += times * (endS - nextS) - (pieces.length === 0 ? times - 1 : times) * seamS
    pieces.push(piece)
  }
  for (const { seam, times } of jumps) {
    add(seam.outS, 1)
    ;[nextS, seamS] = [seam.inS, seam.seamS]
    if (times > 1) add(seam.outS, times - 1)
  }
  add(toS, 1)
  const last = pieces[pieces.length - 1] as AssemblyPiece
  const tooLongS = Math.max(0, heardS - lengthS)
  pieces[pieces.length - 1] = { ...last, toS: Math.max(last.fromS + 2 * last.seamS + 0.001, last.toS - tooLongS) }
  return pieces
}

function fitted(pieces: readonly AssemblyPiece[], seams: readonly FoundSeam[]): FittedLength {
  const quality = Math.min(1, ...seams.map((seam) => seam.quality))
  const joins = pieces.reduce((sum, { times }) => sum + times, 0) - 1
  return {
    pieces,
    lengthS: pieces.reduce(
      (sum, one, at) => sum + one.times * (one.toS - one.fromS) - (at === 0 ? 0 : one.times * one.seamS),
      0,
    ),
    quality,
    isGood: quality >= GOOD_QUALITY,
    seams: joins,
    levelJumpDb: Math.max(0, ...seams.map((seam) => seam.levelJumpDb)),
    soundJumpDb: Math.max(0, ...seams.map((seam) => seam.soundJumpDb)),
  }
}
