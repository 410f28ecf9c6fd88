import { DEMO_SOUNDS } from '../demo/synthesis/catalogue'
import { soundOf } from '../demo/synthesis/make-library'
import { Chance, RATE_HZ } from '../demo/synthesis/toolkit'
import { resampled } from '../src/core/audio'
import {
  type Detection,
  finalDetections,
  HEARING_RATE_HZ,
  preparedSound,
  preparedTrack,
  Searcher,
} from '../src/core/hearing'

/*
 * Measures the hearing engine on labelled mixes of its own making (fixed seeds): recall and level error by effect-to-bed
 * ratio, false finds, and cost as a multiple of real time. Run: npm run bench
 */
const RATIOS_DB = [-18, -12, -6, 0, 6]
const MIX_S = 240
const GAP_S = 1.4

interface Laid {
  readonly soundIndex: number
  readonly startS: number
  readonly ratioDb: number
  readonly gainDb: number
}

const mono = DEMO_SOUNDS.map((sound) => {
  const channels = soundOf(sound)
  const mixed = (channels[0] as Float32Array).map((value, i) => (value + (channels[1]?.[i] ?? value)) / 2)
  return resampled(mixed, { fromHz: RATE_HZ, toHz: HEARING_RATE_HZ })
})
const indexMs = performance.now()
const sounds = mono.map(preparedSound)
const perSoundMs = (performance.now() - indexMs) / sounds.length

const chance = new Chance(77)
const { track, laid } = mixed()
const searchMs = performance.now()
const found = listened(track)
const searchS = (performance.now() - searchMs) / 1000
const bare = listened(bed(MIX_S, new Chance(78)))

console.log(
  `${sounds.length} sounds, ${MIX_S} s of synthesised speech-like and music-like bed, ${laid.length} places\n`,
)
console.log('ratio to bed   found        level within 1.5 dB   start error, median')
const used = new Set<Detection>()
for (const ratioDb of RATIOS_DB) {
  const places = laid.filter((place) => place.ratioDb === ratioDb)
  const hits = places.flatMap((place) => {
    const hit = found.find(
      (find) => find.soundIndex === place.soundIndex && Math.abs(find.startS - find.fromS - place.startS) < 0.05,
    )
    if (hit) used.add(hit)
    return hit ? [{ place, hit }] : []
  })
  const level = hits.filter(({ place, hit }) => Math.abs(hit.gainDb - place.gainDb) < 1.5).length
  const errorsMs = hits
    .map(({ place, hit }) => 1000 * Math.abs(hit.startS - hit.fromS - place.startS))
    .sort((a, b) => a - b)
  console.log(
    `${String(ratioDb).padStart(4)} dB      ${share(hits.length, places.length)}   ${share(level, hits.length)}         ${(errorsMs[errorsMs.length >> 1] ?? 0).toFixed(3)} ms`,
  )
}
console.log(
  `\nfound where nothing was laid: ${found.filter((find) => !used.has(find)).length}; in the bare bed: ${bare.length}`,
)
console.log(
  `search ${(MIX_S / searchS).toFixed(1)} x real time on one core (${((1e9 * searchS) / (MIX_S * HEARING_RATE_HZ * pieceCount())).toFixed(1)} ns per track sample and piece)`,
)
console.log(`preparing a sound ${perSoundMs.toFixed(1)} ms`)

function pieceCount(): number {
  return sounds.reduce((sum, sound) => sum + (sound?.pieces.length ?? 0), 0)
}

function share(part: number, whole: number): string {
  return `${String(part).padStart(3)} of ${String(whole).padEnd(3)}`
}

function listened(samples: Float32Array): Detection[] {
  return finalDetections(
    new Searcher().search(preparedTrack(samples), sounds),
    sounds,
    samples.length / HEARING_RATE_HZ,
  )
}

/** A bed with sounds laid in one after another, the ratios in turn. */
function mixed(): { track: Float32Array; laid: Laid[] } {
  const samples = bed(MIX_S, chance)
  const under = samples.slice()
  const laid: Laid[] = []
  for (let startS = 1; ; ) {
    const soundIndex = Math.floor(chance.unit() * mono.length)
    const sound = mono[soundIndex] as Float32Array
    if (startS + sound.length / HEARING_RATE_HZ > MIX_S) return { track: samples, laid }
    const at = Math.round(startS * HEARING_RATE_HZ)
    const ratioDb = RATIOS_DB[laid.length % RATIOS_DB.length] as number
    const gain = (rms(under.subarray(at, at + sound.length)) / rms(sound)) * 10 ** (ratioDb / 20)
    for (let i = 0; i < sound.length; i++) samples[at + i] = (samples[at + i] as number) + gain * (sound[i] as number)
    laid.push({ soundIndex, startS: at / HEARING_RATE_HZ, ratioDb, gainDb: 20 * Math.log10(gain) })
    startS += sound.length / HEARING_RATE_HZ + GAP_S * chance.between(0.5, 1.5)
  }
}

/** Noise in syllables over chords: not speech, but as broad and as restless. */
function bed(durationS: number, source: Chance): Float32Array {
  let smooth = 0
  let rate = 3.5
  return Float32Array.from({ length: durationS * HEARING_RATE_HZ }, (_, n) => {
    const t = n / HEARING_RATE_HZ
    if (n % 8000 === 0) rate = source.between(2.5, 5)
    smooth += 0.4 * (source.noise() - smooth)
    const syllable = Math.max(0.05, Math.sin(2 * Math.PI * rate * t)) ** 2
    const root = 98 * 2 ** (([0, 5, 7, 3][Math.floor(t / 2) % 4] as number) / 12)
    let chord = 0
    for (const ratio of [1, 1.26, 1.5, 2, 3.01, 4.02]) chord += Math.sin(2 * Math.PI * root * ratio * t) / ratio
    return 0.12 * (1.6 * syllable * smooth + 0.35 * chord)
  })
}

function rms(samples: Float32Array): number {
  return Math.sqrt(samples.reduce((sum, value) => sum + value * value, 0) / Math.max(1, samples.length)) || 1e-6
}
