import { eachPowerSpectrum } from '../audio'
import { joinedRanges, type TimeRange } from '../time-range'

/** Limits of the critical bands, Hz. Source: ANSI S3.5-1997, table 1. */
const EDGES_HZ = [
  100, 200, 300, 400, 510, 630, 770, 920, 1080, 1270, 1480, 1720, 2000, 2320, 2700, 3150, 3700, 4400, 5300, 6400, 7700,
  9500,
]
const BANDS = EDGES_HZ.length - 1
/** What each band counts for understanding speech; together 1. Source: the same table. */
const IMPORTANCE = [
  0.0103, 0.0261, 0.0419, 0.0577, 0.0577, 0.0577, 0.0577, 0.0577, 0.0577, 0.0577, 0.0577, 0.0577, 0.0577, 0.0577,
  0.0577, 0.0577, 0.0577, 0.046, 0.0343, 0.0226, 0.011,
]
/** Speech moves so far above and below its mean level in a band, dB: what is heard of it goes from all to nothing within twice that. */
const SPEECH_REACH_DB = 15
/** Where the voice has so much less in a band than in its strongest, that band carries nothing of it, dB. */
const VOICE_RANGE_DB = 40
/** A sound is masked in a band when it is so far below what is heard there, dB: what masks is more like noise than like a tone. */
const MASKED_BELOW_DB = 6
/** Of a sound that is softer than its loudest frame by more, nothing is expected to be heard, dB. */
const SOUND_RANGE_DB = 40
/** Frames of the voice that are softer than its loudest by more are pauses, dB. */
const PAUSE_BELOW_DB = 30
/** Speech of which more than this is lost is not understood any more: an index under 0.45 is called poor. */
const POOR_LOST_FRACTION = 0.55
const FRAME = 2048
const HOP = FRAME / 2
/** Losses are averaged over so many frames, some 0.2 s: a syllable. */
const SMOOTH_FRAMES = 9
const SHORTEST_S = 0.2
const SILENT_DB = -120

/** A signal of one channel, and where it begins in the video. */
export interface PlacedSignal {
  readonly samples: Float32Array
  readonly startS: number
}

/** How a placed sound and the voice of the cut cover each other. */
export interface Masking {
  /** How much of what is said while the sound is heard is lost, 0 to 1; null where nobody speaks meanwhile. */
  readonly speechLostFraction: number | null
  /** Where what is said is hardly understood for the sound, in the video. */
  readonly speechLost: readonly TimeRange[]
  /** How much of the time that the sound lasts nothing of it is heard for the voice, 0 to 1; null where nobody speaks meanwhile. */
  readonly soundLostFraction: number | null
}

const NOBODY_SPEAKS: Masking = { speechLostFraction: null, speechLost: [], soundLostFraction: null }

/**
 * How a sound covers speech, and speech the sound, band by band.
 *
 * Speech is lost as the speech intelligibility index counts it (ANSI S3.5-1997), with the sound as the disturbance, spread to other bands by M. R.
 * Schroeder, B. S. Atal and J. L. Hall, Optimizing digital speech coders, J. Acoust. Soc. Am. 66 (1979). Thresholds of hearing are left out: nobody knows
 * how loud it is played.
 *
 * @param sound As it is heard in the mix. @param voice Of the cut, around the sound. @param speech Where somebody speaks. @param sampleRateHz Of both.
 */
export function maskingOf(
  sound: PlacedSignal,
  voice: PlacedSignal,
  speech: readonly TimeRange[],
  sampleRateHz: number,
): Masking {
  const [ofSound, ofVoice] = [bandLevels(sound.samples, sampleRateHz), bandLevels(voice.samples, sampleRateHz)]
  const hopS = HOP / sampleRateHz
  const isSpoken = (atS: number): boolean => speech.some(({ startS, endS }) => atS >= startS && atS < endS)
  const speechDb = meanSpeech(ofVoice, (frame) => isSpoken(voice.startS + frame * hopS))
  if (!speechDb) return NOBODY_SPEAKS
  const weights = weightsOf(speechDb)
  const lost: number[] = []
  const timesS: number[] = []
  let alive = 0
  let unheard = 0
  const loudest = Math.max(...ofSound.map(({ totalDb }) => totalDb))
  for (const [frame, { levelsDb, totalDb }] of ofSound.entries()) {
    const atS = sound.startS + frame * hopS
    const isAlive = totalDb > Math.max(SILENT_DB, loudest - SOUND_RANGE_DB)
    const beside = ofVoice[Math.round((atS - voice.startS) / hopS)]
    if (isAlive) alive++
    if (!isSpoken(atS) || !beside) continue
    timesS.push(atS)
    lost.push(isAlive ? lostSpeech(speechDb, spread(levelsDb), weights) : 0)
    if (isAlive && isUnheard(levelsDb, spread(beside.levelsDb), loudest)) unheard++
  }
  if (lost.length === 0) return NOBODY_SPEAKS
  return {
    speechLostFraction: mean(lost),
    speechLost: stretchesOf(smoothed(lost), timesS, hopS),
    soundLostFraction: alive === 0 ? 0 : unheard / alive,
  }
}

interface Frame {
  readonly levelsDb: Float64Array
  readonly totalDb: number
}

/** Levels of the bands in each frame, dB. Frame k lies around sample k * HOP. */
function bandLevels(samples: Float32Array, sampleRateHz: number): Frame[] {
  const window = Float32Array.from({ length: FRAME }, (_, n) => 0.5 - 0.5 * Math.cos((2 * Math.PI * n) / FRAME))
  const bins = EDGES_HZ.map((hz) => Math.min(FRAME / 2, Math.round((hz * FRAME) / sampleRateHz)))
  const frames: Frame[] = []
  const count = Math.ceil(samples.length / HOP)
  eachPowerSpectrum(samples, { window, count, startOf: (frame) => (frame - 1) * HOP }, (spectrum) => {
    const levelsDb = new Float64Array(BANDS)
    let total = 0
    for (let band = 0; band < BANDS; band++) {
      let power = 0
      for (let k = bins[band] as number; k < (bins[band + 1] as number); k++) power += spectrum[k] as number
      levelsDb[band] = decibels(power)
      total += power
    }
    frames.push({ levelsDb, totalDb: decibels(total) })
  })
  return frames
}

function decibels(power: number): number {
  return Math.max(SILENT_DB, 10 * Math.log10(power / FRAME ** 2 + 1e-30))
}

/** Mean power of what is spoken in each band, dB, without pauses; null where nobody speaks. */
function meanSpeech(frames: readonly Frame[], isSpoken: (frame: number) => boolean): Float64Array | null {
  const spoken = frames.filter(({ totalDb }, at) => totalDb > SILENT_DB && isSpoken(at))
  const loudest = Math.max(...spoken.map(({ totalDb }) => totalDb))
  const loud = spoken.filter(({ totalDb }) => totalDb > loudest - PAUSE_BELOW_DB)
  if (loud.length === 0) return null
  return Float64Array.from({ length: BANDS }, (_, band) =>
    Math.max(SILENT_DB, 10 * Math.log10(mean(loud.map(({ levelsDb }) => 10 ** ((levelsDb[band] as number) / 10))))),
  )
}

/** What each band counts for this voice: together 1. */
function weightsOf(speechDb: Float64Array): number[] {
  const strongest = Math.max(...speechDb)
  const carried = IMPORTANCE.map((one, band) => ((speechDb[band] as number) > strongest - VOICE_RANGE_DB ? one : 0))
  const sum = carried.reduce((all, one) => all + one, 0)
  return carried.map((one) => one / sum)
}

function lostSpeech(speechDb: Float64Array, disturbanceDb: Float64Array, weights: readonly number[]): number {
  let lost = 0
  for (let band = 0; band < BANDS; band++) {
    const over = (speechDb[band] as number) - (disturbanceDb[band] as number)
    const heard = Math.min(1, Math.max(0, (over + SPEECH_REACH_DB) / (2 * SPEECH_REACH_DB)))
    lost += (weights[band] as number) * (1 - heard)
  }
  return lost
}

function isUnheard(levelsDb: Float64Array, coveringDb: Float64Array, loudestDb: number): boolean {
  return levelsDb.every(
    (level, band) => level < loudestDb - SOUND_RANGE_DB || level < (coveringDb[band] as number) - MASKED_BELOW_DB,
  )
}

/** How far what is in one band reaches into another that lies so many bands above it, dB. */
const SPREAD_DB = Float64Array.from({ length: 2 * BANDS - 1 }, (_, at) => {
  const x = at - (BANDS - 1) + 0.474
  return 15.81 + 7.5 * x - 17.5 * Math.sqrt(1 + x * x)
})

function spread(levelsDb: Float64Array): Float64Array {
  const into = new Float64Array(BANDS)
  for (let to = 0; to < BANDS; to++) {
    let power = 0
    for (let from = 0; from < BANDS; from++)
      power += 10 ** (((levelsDb[from] as number) + (SPREAD_DB[to - from + BANDS - 1] as number)) / 10)
    into[to] = 10 * Math.log10(power)
  }
  return into
}

function smoothed(values: readonly number[]): number[] {
  const half = (SMOOTH_FRAMES - 1) / 2
  return values.map((_, at) => mean(values.slice(Math.max(0, at - half), at + half + 1)))
}

/** Stretches in which too much is lost. */
function stretchesOf(lost: readonly number[], timesS: readonly number[], hopS: number): TimeRange[] {
  const poor = timesS.flatMap((atS, at) =>
    (lost[at] as number) > POOR_LOST_FRACTION ? [{ startS: Math.max(0, atS - hopS), endS: atS + hopS }] : [],
  )
  return joinedRanges(poor, hopS).filter(({ startS, endS }) => endS - startS >= SHORTEST_S)
}

function mean(values: readonly number[]): number {
  return values.reduce((sum, value) => sum + value, 0) / values.length
}
