import {
  type AssemblyPiece,
  type BreakPoint,
  type Delivery,
  type DuckRule,
  type Fade,
  type HitTarget,
  type Layer,
  type Placement,
  SCORE_LIMITS,
  type Treatment,
} from './score'
import { ScoreError } from './score-error'
import { placementLengthS } from './timing'

const ID = /^[\w-]{1,64}$/
const SHA256 = /^[0-9a-f]{64}$/

function bad(message: string): ScoreError {
  return new ScoreError('bad-value', message)
}

function badTime(message: string): ScoreError {
  return new ScoreError('bad-time', message)
}

interface Bounds {
  readonly least: number
  readonly most: number
}

/** Not for NaN, which is within no bounds. */
function isWithin(value: number, { least, most }: Bounds): boolean {
  return value >= least && value <= most
}

function isTime(timeS: number): boolean {
  return isWithin(timeS, { least: 0, most: SCORE_LIMITS.timeS })
}

/** @throws {ScoreError} for a layer that cannot be. */
export function checkLayer({ id, name, levelDb, duck }: Layer): void {
  if (!ID.test(id)) throw bad('The layer has no proper id.')
  if (name.trim() === '' || name.length > SCORE_LIMITS.nameLength)
    throw bad(`A layer has a name of 1 to ${SCORE_LIMITS.nameLength} letters.`)
  checkGain(levelDb)
  if (duck) checkDuck(duck)
}

function checkGain(gainDb: number): void {
  const { gainDb: bounds } = SCORE_LIMITS
  if (!isWithin(gainDb, bounds)) throw bad(`A level lies between ${bounds.least} and ${bounds.most} dB.`)
}

function checkDuck({ depthDb, attackS, holdS, releaseS, adjusted }: DuckRule): void {
  const { duckDb } = SCORE_LIMITS
  const ramp: Bounds = { least: 0.005, most: 10 }
  if (![depthDb, ...adjusted.map((dip) => dip.depthDb)].every((db) => isWithin(db, duckDb)))
    throw bad(`A layer goes down by ${duckDb.least} to ${duckDb.most} dB.`)
  if (!isWithin(attackS, ramp) || !isWithin(releaseS, ramp) || !isWithin(holdS, { least: 0, most: ramp.most }))
    throw badTime('Going down and coming up take 5 ms to 10 s each.')
  if (adjusted.length > SCORE_LIMITS.adjustedDips || !adjusted.every(({ atS }) => isTime(atS)))
    throw bad('These changed dips cannot be.')
}

/** @throws {ScoreError} for what a mix cannot be brought to. */
export function checkDelivery({ loudnessLufs, ceilingDbtp }: Delivery): void {
  const { loudnessLufs: loudness, ceilingDbtp: ceiling } = SCORE_LIMITS
  if (loudnessLufs !== null && !isWithin(loudnessLufs, loudness))
    throw bad(`A mix is brought to ${loudness.least} to ${loudness.most} LUFS.`)
  if (!isWithin(ceilingDbtp, ceiling)) throw bad(`The ceiling lies between ${ceiling.least} and ${ceiling.most} dBTP.`)
}

/** @throws {ScoreError} for a placement that cannot be. */
export function checkPlacement(placement: Placement, layers: readonly Layer[]): void {
  const { id, layerId, audio, rate, pan, treatments, treatmentChange } = placement
  if (!ID.test(id)) throw bad('The placement has no proper id.')
  if (!layers.some((layer) => layer.id === layerId))
    throw new ScoreError('not-there', 'Its layer is not there any more.')
  if (audio.kind === 'copy' && !SHA256.test(audio.sha256)) throw bad('The placement names no copy.')
  if (!isWithin(rate, SCORE_LIMITS.rate))
    throw bad(`A sound is played at ${SCORE_LIMITS.rate.least} to ${SCORE_LIMITS.rate.most} times its speed.`)
  if (placement.bed && !ID.test(placement.bed.id)) throw bad('The bed has no proper id.')
  checkTimes(placement)
  checkGain(placement.gainDb)
  if (!isWithin(pan, { least: -1, most: 1 })) throw bad('Pan lies between -1 (left) and 1 (right).')
  checkPoints(placement.gainPoints, SCORE_LIMITS.gainDb)
  checkPoints(placement.panPoints, { least: -2, most: 2 })
  checkFades(placement)
  checkTreatments(treatments)
  if (treatmentChange) {
    checkTreatments(treatmentChange.to)
    if (!isTime(treatmentChange.fromS) || !isTime(treatmentChange.toS) || treatmentChange.toS < treatmentChange.fromS)
      throw badTime('A change of treatment ends before it begins.')
  }
}

function checkTimes(placement: Placement): void {
  const { fromS, toS, startS, hitS, target, assembly } = placement
  if (!isTime(startS) || (hitS !== null && !isTime(hitS)) || (target !== null && !isTarget(target)))
    throw badTime('A sound is placed between the start of the video and 24 hours.')
  if (!isTime(fromS) || !isTime(toS) || toS - fromS < SCORE_LIMITS.shortestS)
    throw badTime('The part that is heard ends before it begins, or is too short to be heard.')
  if (
    !Number.isInteger(placement.hitRepeat) ||
    !isWithin(placement.hitRepeat, { least: 0, most: SCORE_LIMITS.repeats })
  )
    throw bad('A hit is the first, the second or a later one.')
  if (assembly) checkAssembly(assembly)
  if (!isTime(startS + placementLengthS(placement))) throw badTime('The sound ends after 24 hours.')
}

function isTarget(target: HitTarget): boolean {
  return target.kind === 'moment' ? ID.test(target.momentId) : isTime(target.atS)
}

function checkAssembly(pieces: readonly AssemblyPiece[]): void {
  const times = pieces.reduce((sum, piece) => sum + piece.times, 0)
  if (pieces.length === 0 || pieces.length > SCORE_LIMITS.pieces || !(times <= SCORE_LIMITS.repeats))
    throw new ScoreError(
      'too-many',
      `A sound is put together from 1 to ${SCORE_LIMITS.pieces} parts, repeated at most ${SCORE_LIMITS.repeats} times in all.`,
    )
  let shortestBeforeS = Number.POSITIVE_INFINITY
  for (const { fromS, toS, times: repeats, seamS } of pieces) {
    const lengthS = toS - fromS
    if (!isTime(fromS) || !isTime(toS) || lengthS < SCORE_LIMITS.shortestS || !Number.isInteger(repeats) || repeats < 1)
      throw badTime('A part of the sound ends before it begins, or is repeated less than once.')
    // Two seams of one part must not meet.
    if (!isWithin(seamS, { least: 0, most: Math.min(SCORE_LIMITS.seamS, lengthS / 2, shortestBeforeS / 2) }))
      throw badTime('A seam is at most half as long as the parts that it joins.')
    shortestBeforeS = lengthS
  }
}

function checkPoints(points: readonly BreakPoint[], bounds: Bounds): void {
  if (points.length > SCORE_LIMITS.breakPoints)
    throw new ScoreError('too-many', `A line has at most ${SCORE_LIMITS.breakPoints} break points.`)
  for (const [at, { atS, value }] of points.entries()) {
    const before = points[at - 1]
    if (!isTime(atS) || (before && before.atS > atS)) throw badTime('Break points stand in order of time.')
    if (!isWithin(value, bounds)) throw bad(`A break point lies between ${bounds.least} and ${bounds.most}.`)
  }
}

function checkFades(placement: Placement): void {
  const { fadeIn, fadeOut } = placement
  const lengthS = placementLengthS(placement)
  // Rounding of a length that was worked out does not make a fade too long.
  const room = lengthS + 1e-6
  const isGood = (fade: Fade | null): boolean => fade === null || isWithin(fade.lengthS, { least: 0, most: room })
  if (!isGood(fadeIn) || !isGood(fadeOut) || (fadeIn?.lengthS ?? 0) + (fadeOut?.lengthS ?? 0) > room)
    throw badTime('The fades are longer than the sound. Make them shorter.')
}

function checkTreatments(treatments: readonly Treatment[]): void {
  if (treatments.length > SCORE_LIMITS.treatments)
    throw new ScoreError('too-many', `At most ${SCORE_LIMITS.treatments} treatments follow one another.`)
  if (!treatments.every(({ amountFraction }) => isWithin(amountFraction, { least: 0, most: 1 })))
    throw bad('The amount of a treatment lies between nothing and all of it.')
}
