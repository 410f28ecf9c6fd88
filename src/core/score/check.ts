import { score as messages } from '../wording/score'
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
  if (!ID.test(id)) throw bad(messages.layerHasNoProperId)
  if (name.trim() === '' || name.length > SCORE_LIMITS.nameLength)
    throw bad(messages.layerHasName1Letters(SCORE_LIMITS.nameLength))
  checkGain(levelDb)
  if (duck) checkDuck(duck)
}

function checkGain(gainDb: number): void {
  const { gainDb: bounds } = SCORE_LIMITS
  if (!isWithin(gainDb, bounds)) throw bad(messages.levelLiesBetweenAndDb(bounds.least, bounds.most))
}

function checkDuck({ depthDb, attackS, holdS, releaseS, adjusted }: DuckRule): void {
  const { duckDb } = SCORE_LIMITS
  const ramp: Bounds = { least: 0.005, most: 10 }
  if (![depthDb, ...adjusted.map((dip) => dip.depthDb)].every((db) => isWithin(db, duckDb)))
    throw bad(messages.layerGoesDownByDb(duckDb.least, duckDb.most))
  if (!isWithin(attackS, ramp) || !isWithin(releaseS, ramp) || !isWithin(holdS, { least: 0, most: ramp.most }))
    throw badTime(messages.goingDownAndComingUp)
  if (adjusted.length > SCORE_LIMITS.adjustedDips || !adjusted.every(({ atS }) => isTime(atS)))
    throw bad(messages.theseChangedDipsCannotBe)
}

/** @throws {ScoreError} for what a mix cannot be brought to. */
export function checkDelivery({ loudnessLufs, ceilingDbtp }: Delivery): void {
  const { loudnessLufs: loudness, ceilingDbtp: ceiling } = SCORE_LIMITS
  if (loudnessLufs !== null && !isWithin(loudnessLufs, loudness))
    throw bad(messages.mixBroughtLufs(loudness.least, loudness.most))
  if (!isWithin(ceilingDbtp, ceiling)) throw bad(messages.ceilingLiesBetweenAndDbtp(ceiling.least, ceiling.most))
}

/** @throws {ScoreError} for a placement that cannot be. */
export function checkPlacement(placement: Placement, layers: readonly Layer[]): void {
  const { id, layerId, audio, rate, pan, treatments, treatmentChange } = placement
  if (!ID.test(id)) throw bad(messages.placementHasNoProperId)
  if (!layers.some((layer) => layer.id === layerId)) throw new ScoreError('not-there', messages.layerNotThereAnyMore)
  if (audio.kind === 'copy' && !SHA256.test(audio.sha256)) throw bad(messages.thePlacementNamesNoCopy)
  if (!isWithin(rate, SCORE_LIMITS.rate))
    throw bad(messages.soundPlayedAtTimesSpeed(SCORE_LIMITS.rate.least, SCORE_LIMITS.rate.most))
  if (placement.bed && !ID.test(placement.bed.id)) throw bad(messages.bedHasNoProperId)
  checkTimes(placement)
  checkGain(placement.gainDb)
  if (!isWithin(pan, { least: -1, most: 1 })) throw bad(messages.panLiesBetween1Left)
  checkPoints(placement.gainPoints, SCORE_LIMITS.gainDb)
  checkPoints(placement.panPoints, { least: -2, most: 2 })
  checkFades(placement)
  checkTreatments(treatments)
  if (treatmentChange) {
    checkTreatments(treatmentChange.to)
    if (!isTime(treatmentChange.fromS) || !isTime(treatmentChange.toS) || treatmentChange.toS < treatmentChange.fromS)
      throw badTime(messages.changeTreatmentEndsBeforeBegins)
  }
}

function checkTimes(placement: Placement): void {
  const { fromS, toS, startS, hitS, target, assembly } = placement
  if (!isTime(startS) || (hitS !== null && !isTime(hitS)) || (target !== null && !isTarget(target)))
    throw badTime(messages.soundPlacedBetweenStartVideo)
  if (!isTime(fromS) || !isTime(toS) || toS - fromS < SCORE_LIMITS.shortestS)
    throw badTime(messages.partThatHeardEndsBefore)
  if (
    !Number.isInteger(placement.hitRepeat) ||
    !isWithin(placement.hitRepeat, { least: 0, most: SCORE_LIMITS.repeats })
  )
    throw bad(messages.hitFirstSecondOrLater)
  if (assembly) checkAssembly(assembly)
  if (!isTime(startS + placementLengthS(placement))) throw badTime(messages.soundEndsAfter24Hours)
}

function isTarget(target: HitTarget): boolean {
  return target.kind === 'moment' ? ID.test(target.momentId) : isTime(target.atS)
}

function checkAssembly(pieces: readonly AssemblyPiece[]): void {
  const times = pieces.reduce((sum, piece) => sum + piece.times, 0)
  if (pieces.length === 0 || pieces.length > SCORE_LIMITS.pieces || !(times <= SCORE_LIMITS.repeats))
    throw new ScoreError('too-many', messages.soundPutTogetherFrom1(SCORE_LIMITS.pieces, SCORE_LIMITS.repeats))
  let shortestBeforeS = Number.POSITIVE_INFINITY
  for (const { fromS, toS, times: repeats, seamS } of pieces) {
    const lengthS = toS - fromS
    if (!isTime(fromS) || !isTime(toS) || lengthS < SCORE_LIMITS.shortestS || !Number.isInteger(repeats) || repeats < 1)
      throw badTime(messages.partSoundEndsBeforeBegins)
    // Two seams of one part must not meet.
    if (!isWithin(seamS, { least: 0, most: Math.min(SCORE_LIMITS.seamS, lengthS / 2, shortestBeforeS / 2) }))
      throw badTime(messages.seamAtMostHalfAs)
    shortestBeforeS = lengthS
  }
}

function checkPoints(points: readonly BreakPoint[], bounds: Bounds): void {
  if (points.length > SCORE_LIMITS.breakPoints)
    throw new ScoreError('too-many', messages.lineHasAtMostBreak(SCORE_LIMITS.breakPoints))
  for (const [at, { atS, value }] of points.entries()) {
    const before = points[at - 1]
    if (!isTime(atS) || (before && before.atS > atS)) throw badTime(messages.breakPointsStandInOrder)
    if (!isWithin(value, bounds)) throw bad(messages.breakPointLiesBetweenAnd(bounds.least, bounds.most))
  }
}

function checkFades(placement: Placement): void {
  const { fadeIn, fadeOut } = placement
  const lengthS = placementLengthS(placement)
  // Rounding of a length that was worked out does not make a fade too long.
  const room = lengthS + 1e-6
  const isGood = (fade: Fade | null): boolean => fade === null || isWithin(fade.lengthS, { least: 0, most: room })
  if (!isGood(fadeIn) || !isGood(fadeOut) || (fadeIn?.lengthS ?? 0) + (fadeOut?.lengthS ?? 0) > room)
    throw badTime(messages.fadesAreLongerThanSound)
}

function checkTreatments(treatments: readonly Treatment[]): void {
  if (treatments.length > SCORE_LIMITS.treatments)
    throw new ScoreError('too-many', messages.atMostTreatmentsFollowOne(SCORE_LIMITS.treatments))
  if (!treatments.every(({ amountFraction }) => isWithin(amountFraction, { least: 0, most: 1 })))
    throw bad(messages.amountTreatmentLiesBetweenNothing)
}
