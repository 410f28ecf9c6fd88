import type { Moment } from '../moments'
import { score as messages } from '../wording/score'
import type { ScoreEdit } from './edits'
import {
  type AssemblyPiece,
  AUTOMATIC_FADE,
  type Fade,
  type Layer,
  type LayerRole,
  newLayer,
  newPlacement,
  type Placement,
  type PlacementValues,
  type Score,
} from './score'
import { ScoreError } from './score-error'
import { hitOffsetS, placedAt, placementEndS, placementLengthS, targetTimeS } from './timing'

/** What is known of the audio of a placement, for its ends. */
export interface SourceFacts {
  readonly durationS: number
  readonly hitS: number | null
  /** Whether the sound has not died at an instant of the source: an end there would cut it. */
  isLoudAt(sourceS: number): boolean
}

/** Layers that each kind of moment goes to. */
const ROLE_OF_KIND: Readonly<Record<Moment['kind'], LayerRole>> = {
  hit: 'effects',
  swell: 'effects',
  spot: 'effects',
  ambience: 'ambience',
  music: 'music',
  silence: 'free',
}

const LAYER_NAMES: Readonly<Record<LayerRole, string>> = {
  voice: messages.voice,
  music: messages.music,
  ambience: messages.ambience,
  effects: messages.effects,
  cut: messages.soundOfTheCut,
  free: messages.other,
}

/** What lies below a scene begins with it; a hit in it means nothing. */
function isBed(kind: Moment['kind']): boolean {
  return kind === 'ambience' || kind === 'music'
}

/** The first layer for a role, or null. */
export function layerFor(score: Score, role: LayerRole): Layer | null {
  return score.layers.find((layer) => layer.role === role) ?? null
}

/** What a layer of a role is called by itself. */
export function layerName(role: LayerRole): string {
  return LAYER_NAMES[role]
}

/** The role of the layer that a moment of a kind is placed on. */
export function roleOfKind(kind: Moment['kind']): LayerRole {
  return ROLE_OF_KIND[kind]
}

/**
 * Places a sound so that its hit meets a moment; the layer is made where it is not there.
 *
 * @param ids Ids that nobody has: of the placement, and of the layer if one is made.
 */
export function placedForMoment(
  score: Score,
  {
    moment,
    audio,
    source,
    ids,
    gainDb = 0,
  }: {
    readonly moment: Moment
    readonly audio: Placement['audio']
    readonly source: SourceFacts
    /** Level that it is placed at, dB. */
    readonly gainDb?: number
    readonly ids: { readonly placement: string; readonly layer: string }
  },
): { readonly edit: ScoreEdit; readonly placement: Placement } {
  const role = roleOfKind(moment.kind)
  const known = layerFor(score, role)
  const layer = known ?? newLayer(ids.layer, layerName(role), role)
  const placement = withSafeEnds(
    placedAt(
      newPlacement(
        ids.placement,
        { layerId: layer.id, audio, startS: 0, toS: source.durationS },
        {
          hitS: isBed(moment.kind) ? null : source.hitS,
          target: { kind: 'moment', momentId: moment.id },
          gainDb,
        },
      ),
      moment.atS,
    ),
    source,
  )
  return { edit: addedWithLayers(score, known ? [] : [layer], [placement]), placement }
}

/** Places a sound so that its hit, or else its start, is at a time; the layer for its role is made where none is told and there is none. */
export function placedAnywhere(
  score: Score,
  {
    atS,
    audio,
    source,
    layerId,
    role,
    ids,
    gainDb,
  }: {
    readonly atS: number
    readonly audio: Placement['audio']
    readonly source: SourceFacts
    /** Where it was dropped; null for the first that is for its role. */
    readonly layerId: string | null
    readonly role: LayerRole
    readonly gainDb: number
    readonly ids: { readonly placement: string; readonly layer: string }
  },
): { readonly edit: ScoreEdit; readonly placement: Placement } {
  const known = score.layers.find(({ id }) => id === layerId) ?? layerFor(score, role)
  const layer = known ?? newLayer(ids.layer, layerName(role), role)
  const whole = newPlacement(
    ids.placement,
    { layerId: layer.id, audio, startS: 0, toS: source.durationS },
    { hitS: role === 'effects' ? source.hitS : null, gainDb },
  )
  const placement = withSafeEnds(placedAt(whole, atS), source)
  return { edit: addedWithLayers(score, known ? [] : [layer], [placement]), placement }
}

/** Placements added, with layers that are made for them behind those that are there. */
export function addedWithLayers(
  { layers: known }: Pick<Score, 'layers'>,
  layers: readonly Layer[],
  placements: readonly Placement[],
): ScoreEdit {
  return {
    do: 'all',
    edits: [
      ...layers.map((layer, at): ScoreEdit => ({ do: 'add-layer', layer, atIndex: known.length + at })),
      { do: 'add', placements },
    ],
  }
}

/** Placements moved by so much; none goes before the start of the video: then all go as far as the first can. */
export function moved(placements: readonly Placement[], byS: number): ScoreEdit {
  const mostBackS = Math.min(...placements.map(({ startS }) => startS))
  const step = Math.max(byS, -mostBackS)
  return { do: 'change', changes: placements.map(({ id, startS }) => ({ id, to: { startS: startS + step } })) }
}

/** Placements moved so that each hit meets its target. Those whose moment is gone stay. */
export function linedUp(
  placements: readonly Placement[],
  document: { readonly moments: readonly Moment[] },
): ScoreEdit {
  const changes = placements.flatMap((placement) => {
    const wantedS = placement.target && targetTimeS(placement.target, document)
    return wantedS === null ? [] : [{ id: placement.id, to: { startS: placedAt(placement, wantedS).startS } }]
  })
  return { do: 'change', changes }
}

/**
 * Trims one end of a placement to a time in the video. What is heard stays where it is; break points keep their places.
 *
 * @throws {ScoreError} bad-time, where nothing would be left, or more than the source has; there is no trimming of what is put together from parts.
 */
export function trimmed(
  placement: Placement,
  { end, toVideoS, source }: { readonly end: 'start' | 'end'; readonly toVideoS: number; readonly source: SourceFacts },
): ScoreEdit & { readonly do: 'change' } {
  if (placement.assembly) throw new ScoreError('bad-value', messages.soundThatPutTogetherFrom)
  const { fromS, toS, rate, isReversed, startS } = placement
  const byS = toVideoS - (end === 'start' ? startS : placementEndS(placement))
  // The start of what is heard is the end of the source where it is reversed.
  const changesFrom = (end === 'start') !== isReversed
  const sourceByS = byS * rate * (isReversed ? -1 : 1)
  const part = changesFrom
    ? { fromS: within(fromS + sourceByS, 0, source.durationS), toS }
    : { fromS, toS: within(toS + sourceByS, 0, source.durationS) }
  const shorter = { ...placement, ...part }
  const startsAtS = end === 'start' ? placementEndS(placement) - placementLengthS(shorter) : startS
  const shiftS = end === 'start' ? startsAtS - startS : 0
  const after = withSafeEnds(
    {
      ...shorter,
      startS: startsAtS,
      gainPoints: shifted(placement.gainPoints, -shiftS),
      panPoints: shifted(placement.panPoints, -shiftS),
      ...fittingFades(placement, placementLengthS(shorter)),
    },
    source,
  )
  return { do: 'change', changes: [{ id: placement.id, to: differing(placement, after) }] }
}

/** Values of a placement changed by which its ends may come to cut, or its fades not fit any more: both are mended with them. */
export function changedSafely(
  placement: Placement,
  values: Partial<PlacementValues>,
  source: SourceFacts,
): ScoreEdit & { readonly do: 'change' } {
  const next = { ...placement, ...values }
  const lengthS = placementLengthS(next)
  const fitting = lengthS > 0 ? { ...next, ...fittingFades(next, lengthS) } : next
  return { do: 'change', changes: [{ id: placement.id, to: differing(placement, withSafeEnds(fitting, source)) }] }
}

/**
 * The change that makes a placement its first half, and the second half. Both together sound as the whole did: neither end is faded there.
 *
 * @throws {ScoreError} bad-time, where the time is not within it.
 */
export function splitInTwo(
  placement: Placement,
  { atS, id }: { readonly atS: number; readonly id: string },
): { readonly first: ScoreEdit & { readonly do: 'change' }; readonly second: Placement } {
  if (placement.assembly) throw new ScoreError('bad-value', messages.soundThatPutTogetherFromParts)
  const { fromS, toS, rate, startS, isReversed } = placement
  const offsetS = atS - startS
  if (!(offsetS > 0 && atS < placementEndS(placement)))
    throw new ScoreError('bad-time', messages.playheadNotWithinThisSound)
  const atSourceS = isReversed ? toS - offsetS * rate : fromS + offsetS * rate
  const [head, tail] = isReversed
    ? [
        { fromS: atSourceS, toS },
        { fromS, toS: atSourceS },
      ]
    : [
        { fromS, toS: atSourceS },
        { fromS: atSourceS, toS },
      ]
  const hitInTail = placement.hitS !== null && (hitOffsetS(placement) ?? 0) >= offsetS
  const second: Placement = {
    ...placement,
    ...tail,
    id,
    startS: atS,
    fadeIn: null,
    fadeOut: shortened(placement.fadeOut, placementEndS(placement) - atS),
    gainPoints: shifted(placement.gainPoints, -offsetS),
    panPoints: shifted(placement.panPoints, -offsetS),
    treatmentChange: placement.treatmentChange && {
      ...placement.treatmentChange,
      fromS: Math.max(0, placement.treatmentChange.fromS - offsetS),
      toS: Math.max(0, placement.treatmentChange.toS - offsetS),
    },
    target: hitInTail ? placement.target : null,
  }
  const first: Partial<PlacementValues> = {
    ...head,
    fadeIn: shortened(placement.fadeIn, offsetS),
    fadeOut: null,
    target: hitInTail ? null : placement.target,
  }
  return { first: { do: 'change', changes: [{ id: placement.id, to: first }] }, second }
}

/**
 * Puts another sound in the place of one, and keeps everything else: where the hit is, level, fades, treatment.
 */
export function replaced(
  placement: Placement,
  { audio, source }: { readonly audio: Placement['audio']; readonly source: SourceFacts },
): ScoreEdit {
  const hitAtS = placement.startS + (hitOffsetS(placement) ?? 0)
  const whole: Placement = {
    ...placement,
    audio,
    fromS: 0,
    toS: source.durationS,
    hitS: source.hitS,
    assembly: null,
  }
  const there = placedAt(whole, hitAtS)
  const after = withSafeEnds({ ...there, ...fittingFades(there, placementLengthS(there)) }, source)
  return { do: 'change', changes: [{ id: placement.id, to: differing(placement, after) }] }
}

/** A placement brought to a length by parts of its source one after the other; its hit, or else its start, stays where it is. */
export function withPieces(
  placement: Placement,
  pieces: readonly AssemblyPiece[],
  source: SourceFacts,
): ScoreEdit & { readonly do: 'change' } {
  const [only] = pieces.length === 1 ? pieces : []
  const part =
    only && only.times === 1
      ? { assembly: null, fromS: only.fromS, toS: only.toS }
      : { assembly: pieces, fromS: placement.fromS, toS: placement.toS }
  const offsetS = hitOffsetS(placement)
  const there: Placement = { ...placement, ...part }
  const kept = offsetS === null ? there : placedAt(there, placement.startS + offsetS)
  const after = withSafeEnds({ ...kept, ...fittingFades(kept, placementLengthS(kept)) }, source)
  return { do: 'change', changes: [{ id: placement.id, to: differing(placement, after) }] }
}

/** A placement whose ends do not cut: where the sound has not died a short fade is put by itself, and goes where it has. */
export function withSafeEnds(placement: Placement, source: SourceFacts): Placement {
  const { fromS, toS, isReversed, assembly } = placement
  const firstS = assembly ? (assembly[0]?.fromS ?? fromS) : fromS
  const lastS = assembly ? (assembly[assembly.length - 1]?.toS ?? toS) : toS
  const [startSourceS, endSourceS] = isReversed ? [lastS, firstS] : [firstS, lastS]
  const lengthS = placementLengthS(placement)
  const end = (fade: Fade | null, other: Fade | null, cuts: boolean): Fade | null => {
    if (fade && !fade.isAutomatic) return fade
    // A fade that was set leaves it only the room that is left.
    const roomS = other && !other.isAutomatic ? lengthS - other.lengthS : lengthS / 2
    const fadeS = Math.min(AUTOMATIC_FADE.lengthS, lengthS / 2, roomS)
    return cuts && fadeS > 0 ? { ...AUTOMATIC_FADE, lengthS: fadeS } : null
  }
  const { fadeIn, fadeOut } = placement
  const joins = placement.bed?.joins ?? 'none'
  return {
    ...placement,
    fadeIn: end(fadeIn, fadeOut, joins !== 'start' && joins !== 'both' && source.isLoudAt(startSourceS)),
    fadeOut: end(fadeOut, fadeIn, joins !== 'end' && joins !== 'both' && source.isLoudAt(endSourceS)),
  }
}

function fittingFades({ fadeIn, fadeOut }: Placement, lengthS: number): Pick<Placement, 'fadeIn' | 'fadeOut'> {
  const bothS = (fadeIn?.lengthS ?? 0) + (fadeOut?.lengthS ?? 0)
  if (bothS <= lengthS) return { fadeIn, fadeOut }
  const part = lengthS / bothS
  const scaled = (fade: Fade | null): Fade | null => fade && { ...fade, lengthS: fade.lengthS * part }
  return { fadeIn: scaled(fadeIn), fadeOut: scaled(fadeOut) }
}

function shortened(fade: Fade | null, mostS: number): Fade | null {
  return fade && { ...fade, lengthS: Math.min(fade.lengthS, mostS) }
}

/** Break points moved; the line before the new start is kept by a point at its value there. */
function shifted(points: Placement['gainPoints'], byS: number): Placement['gainPoints'] {
  const after = points.map(({ atS, value }) => ({ atS: atS + byS, value }))
  const first = after.findIndex(({ atS }) => atS >= 0)
  if (first <= 0) return first === 0 ? after : after.slice(-1).map(({ value }) => ({ atS: 0, value }))
  const [before, next] = [after[first - 1], after[first]]
  if (!before || !next) return after
  const value = before.value + ((next.value - before.value) * (0 - before.atS)) / (next.atS - before.atS)
  return [{ atS: 0, value }, ...after.slice(first)]
}

/** Only what is another than before: what somebody else changed meanwhile stays. */
function differing(before: Placement, after: Placement): Partial<PlacementValues> {
  const keys = (Object.keys(after) as (keyof Placement)[]).filter((key) => after[key] !== before[key])
  return Object.fromEntries(keys.map((key) => [key, after[key]]))
}

function within(value: number, least: number, most: number): number {
  return Math.min(most, Math.max(least, value))
}
