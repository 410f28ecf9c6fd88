import { MOMENT_LIMITS } from '../moments'

/** What a layer is for. */
export const LAYER_ROLES = ['voice', 'music', 'ambience', 'effects', 'cut', 'free'] as const
export type LayerRole = (typeof LAYER_ROLES)[number]

/** How a fade rises: in a straight line, with equal power against its counterpart, or slowly at both ends. */
export const FADE_CURVES = ['straight', 'equal-power', 's'] as const
export type FadeCurve = (typeof FADE_CURVES)[number]

/** Ways in which a sound is made to seem elsewhere. */
export const TREATMENT_KINDS = ['wall', 'small-speaker', 'telephone', 'far-off', 'large-room'] as const
export type TreatmentKind = (typeof TREATMENT_KINDS)[number]

/** The audio of a placement: a copy that is here, or the preview of a sound that is not acquired yet. */
export type PlacedAudio =
  | { readonly kind: 'copy'; readonly sha256: string; readonly soundId: number | null }
  | { readonly kind: 'preview'; readonly soundId: number }

/** What the hit of a placement should meet. */
export type HitTarget =
  | { readonly kind: 'moment'; readonly momentId: string }
  | { readonly kind: 'shot-change'; readonly atS: number }
  | { readonly kind: 'time'; readonly atS: number }

/** A value from a time on; straight lines lead from one to the next. */
export interface BreakPoint {
  /** From the start of the placement, s. */
  readonly atS: number
  readonly value: number
}

export interface Fade {
  readonly lengthS: number
  readonly curve: FadeCurve
  /** Put by itself, since the sound has not died there: it goes when the end does not cut any more. */
  readonly isAutomatic: boolean
}

export interface Treatment {
  readonly kind: TreatmentKind
  /** 0 leaves the sound as it is, 1 is the most. */
  readonly amountFraction: number
}

/** From one chain of treatments to another, over a time of the placement. */
export interface TreatmentChange {
  readonly to: readonly Treatment[]
  /** From the start of the placement, s. */
  readonly fromS: number
  readonly toS: number
}

/** A part of the source that is played so many times; each run is led into the next over `seamS`. */
export interface AssemblyPiece {
  readonly fromS: number
  readonly toS: number
  readonly times: number
  /** Equal-power overlap with what comes before, s. */
  readonly seamS: number
}

/** Placements that are one thing: a bed in stems that sound together, or in parts one after the other. */
export interface PlacedBed {
  /** The same for all of them. */
  readonly id: string
  readonly kind: 'stems' | 'parts'
  /** The sound that it is the whole of. */
  readonly soundId: number
  /** Where another part goes on at once: nothing is faded there. */
  readonly joins: 'none' | 'start' | 'end' | 'both'
}

/** A sound at its place in a video. */
export interface Placement {
  /** Made once, never used for another. */
  readonly id: string
  readonly layerId: string
  readonly audio: PlacedAudio
  /** The bed that it is a stem or part of; null for what stands alone. */
  readonly bed: PlacedBed | null
  /** Part of the source that is heard, s of the source. Where there is an assembly, the source that it is taken from. */
  readonly fromS: number
  readonly toS: number
  /** Parts of the source one after the other, in place of the one part; null for that. */
  readonly assembly: readonly AssemblyPiece[] | null
  /** Where it begins in the video, s. */
  readonly startS: number
  /** The instant that should meet the target, s of the source; null where it has none. */
  readonly hitS: number | null
  /** Which time that instant is meant where it is heard several times: 0 for the first. The last where there are fewer. */
  readonly hitRepeat: number
  readonly target: HitTarget | null
  readonly gainDb: number
  /** Added to `gainDb`, dB. In order of time. */
  readonly gainPoints: readonly BreakPoint[]
  /** -1 is left, 1 is right. */
  readonly pan: number
  /** Added to `pan`. In order of time. */
  readonly panPoints: readonly BreakPoint[]
  readonly fadeIn: Fade | null
  readonly fadeOut: Fade | null
  /** 2 is twice as fast. */
  readonly rate: number
  /** Whether the pitch stays when the rate is another than 1. */
  readonly keepsPitch: boolean
  readonly isReversed: boolean
  readonly treatments: readonly Treatment[]
  readonly treatmentChange: TreatmentChange | null
  readonly isMuted: boolean
}

/** What can be changed of a placement. */
export type PlacementValues = Omit<Placement, 'id'>

/** One dip of a layer under speech, changed by hand. */
export interface AdjustedDip {
  /** Where the speech begins that it belongs to, s. */
  readonly atS: number
  readonly depthDb: number
}

/** How a layer goes down under speech. */
export interface DuckRule {
  /** By so much, dB, 0 to 40. */
  readonly depthDb: number
  readonly attackS: number
  readonly holdS: number
  readonly releaseS: number
  readonly adjusted: readonly AdjustedDip[]
}

export interface Layer {
  readonly id: string
  readonly name: string
  readonly role: LayerRole
  readonly levelDb: number
  readonly isMuted: boolean
  readonly isSolo: boolean
  readonly isFolded: boolean
  readonly duck: DuckRule | null
}

export type LayerValues = Omit<Layer, 'id'>

/** What the whole mix is brought to. */
export interface Delivery {
  /** Integrated loudness, LUFS; null leaves it as it is mixed. */
  readonly loudnessLufs: number | null
  /** No sample is higher between samples, either. */
  readonly ceilingDbtp: number
}

/** All that is placed in one video. */
export interface Score {
  readonly version: 1
  /** In the order in which they are shown. */
  readonly layers: readonly Layer[]
  /** By start, then by id. */
  readonly placements: readonly Placement[]
  readonly delivery: Delivery
}

/** Bounds of what is taken. */
export const SCORE_LIMITS = {
  layers: 24,
  placements: 300,
  nameLength: 60,
  breakPoints: 200,
  treatments: 4,
  pieces: 40,
  repeats: 2000,
  adjustedDips: 2000,
  rate: { least: 0.25, most: 4 },
  gainDb: { least: -80, most: 30 },
  duckDb: { least: 0, most: 40 },
  ceilingDbtp: { least: -12, most: 0 },
  loudnessLufs: { least: -40, most: -8 },
  /** A part shorter than this is no sound, s. */
  shortestS: 0.001,
  seamS: 5,
  timeS: MOMENT_LIMITS.timeS,
} as const

/** Fade that is put where a sound would end as if cut, s. */
export const SAFETY_FADE_S = 0.01

export const AUTOMATIC_FADE: Fade = { lengthS: SAFETY_FADE_S, curve: 'equal-power', isAutomatic: true }

export const EMPTY_SCORE: Score = {
  version: 1,
  layers: [],
  placements: [],
  delivery: { loudnessLufs: null, ceilingDbtp: -1 },
}

export const NEW_DUCK: DuckRule = { depthDb: 10, attackS: 0.15, holdS: 0.25, releaseS: 0.6, adjusted: [] }

export function newLayer(id: string, name: string, role: LayerRole, values: Partial<LayerValues> = {}): Layer {
  return {
    id,
    name,
    role,
    levelDb: 0,
    isMuted: false,
    isSolo: false,
    isFolded: false,
    duck: null,
    ...values,
  }
}

/** A placement of a whole source with nothing done to it. */
export function newPlacement(
  id: string,
  what: Pick<Placement, 'layerId' | 'audio' | 'startS' | 'toS'>,
  values: Partial<PlacementValues> = {},
): Placement {
  return {
    id,
    bed: null,
    fromS: 0,
    assembly: null,
    hitS: null,
    hitRepeat: 0,
    target: null,
    gainDb: 0,
    gainPoints: [],
    pan: 0,
    panPoints: [],
    fadeIn: null,
    fadeOut: null,
    rate: 1,
    keepsPitch: false,
    isReversed: false,
    treatments: [],
    treatmentChange: null,
    isMuted: false,
    ...what,
    ...values,
  }
}

/** Placements in their order: by start, then by id, so that it is the same everywhere. */
export function inOrder(placements: readonly Placement[]): Placement[] {
  return [...placements].sort((a, b) => a.startS - b.startS || (a.id < b.id ? -1 : a.id > b.id ? 1 : 0))
}
