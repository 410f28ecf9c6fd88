import { Fft } from '../audio/fft'
import type { PreparedSound } from './prepare'
import { whitenedSound } from './whiten'

/** So many equal marks at one displacement make a pair worth comparing. */
const MARKS_MIN = 2
/** A mark that stands in more places than this tells nothing. */
const COMMON_MARK = 40
/** Numbers for the displacements between two files of up to ten minutes, in steps of two marks. */
const DISPLACEMENTS = 2 ** 17
/** Whitened files this alike are the same recording. Measured: other takes stay under 0.35, re-encoded ones are above 0.6. */
const SAME_RECORDING = 0.5
/** This much of the file must lie within the other: of the longer for the same recording, of the shorter for a piece of it. */
const OVERLAP_MIN = 0.7
/** Only so much of a long file is compared, frames: 8 s for the same recording, 64 s where a piece of it is looked for. */
const COMPARED_FRAMES = { longer: 128_000, shorter: 1_024_000 } as const

/** Changes when what a comparison comes to does. */
export const RELATIONS_VERSION = 1

/** What comparing two sounds came to. */
export interface RecordingComparison {
  /** Indices; the first is the lower one. */
  readonly first: number
  readonly second: number
  /** Of the whole files, 0 to 1. */
  readonly likeness: number
  /** Which of the two lies in the other; null where that was not looked for. */
  readonly piece: 'first' | 'second' | 'none' | null
}

/** How sounds hang together. */
export interface RecordingRelations {
  /** Groups of two and more indices that are the same recording, ascending; sounds that stand alone are in none. */
  readonly groups: readonly (readonly number[])[]
  /** Sounds that lie in a longer one, such as a medley or a preview of a pack: another recording, that lends and takes no papers. */
  readonly pieces: readonly { readonly whole: number; readonly piece: number }[]
  /** What was compared and was not known before. */
  readonly compared: readonly RecordingComparison[]
}

/**
 * Sounds that are the same recording (re-encoded, resampled, trimmed, louder, from two libraries), and sounds that hold another one.
 *
 * Every member of a group lies in every other, and their lengths are alike: nothing is brought together along a chain, and a file
 * that holds another one and more is not the same recording.
 *
 * @param marks Marks of each sound; null for one that cannot be heard. @param soundAt Gives a sound that is to be compared in
 *   full: few are, so the others need not be loaded. @param known What was compared before: it is not compared again.
 */
export function recordingRelations(
  marks: readonly (Uint32Array | null)[],
  soundAt: (index: number) => PreparedSound | null,
  known: readonly RecordingComparison[] = [],
): RecordingRelations {
  const nameOf = (first: number, second: number): string => `${first} ${second}`
  const before = new Map(known.map((one) => [nameOf(one.first, one.second), one]))
  const compared = new Map<string, RecordingComparison>()
  /** @param first The lower index of the two. */
  const compare = (first: number, second: number, forPiece: boolean): RecordingComparison => {
    const name = nameOf(first, second)
    const there = compared.get(name) ?? before.get(name)
    if (there && (there.piece !== null || !forPiece)) return there
    const [one, other] = [soundAt(first), soundAt(second)]
    // What cannot be loaded now may be loaded another time: that says nothing of the two.
    if (!one || !other) return { first, second, likeness: 0, piece: 'none' }
    const likeness = there?.likeness ?? recordingLikeness(one, other, 'longer')
    const result = { first, second, likeness, piece: forPiece ? pieceOf(one, other) : null }
    compared.set(name, result)
    return result
  }
  const likenessOf = (one: number, other: number): number =>
    compare(Math.min(one, other), Math.max(one, other), false).likeness
  const groupOf = new Map<number, number[]>()
  const alike = alikePairs(marks)
  const pairs = alike
    .map(([first, second]) => ({ first, second, value: likenessOf(first, second) }))
    .filter(({ value }) => value >= SAME_RECORDING)
    .sort((a, b) => b.value - a.value || a.first - b.first || a.second - b.second)
  for (const { first, second } of pairs) {
    const [one, other] = [groupOf.get(first) ?? [first], groupOf.get(second) ?? [second]]
    if (one === other) continue
    const isSame = one.every((a) => other.every((b) => likenessOf(a, b) >= SAME_RECORDING))
    if (!isSame) continue
    const joined = [...one, ...other].sort((a, b) => a - b)
    for (const index of joined) groupOf.set(index, joined)
  }
  const groups = [...new Set(groupOf.values())].sort((a, b) => (a[0] as number) - (b[0] as number))
  return {
    groups,
    // What is the same recording is no piece: it need not be loaded again.
    pieces: alike
      .filter(([first, second]) => likenessOf(first, second) < SAME_RECORDING)
      .flatMap((pair) => {
        const [first, second] = [Math.min(...pair), Math.max(...pair)]
        const { piece } = compare(first, second, true)
        if (piece === 'none') return []
        return piece === 'second' ? { whole: first, piece: second } : { whole: second, piece: first }
      })
      .sort((a, b) => a.whole - b.whole || a.piece - b.piece),
    compared: [...compared.values()],
  }
}

/** Of two sounds of different lengths the one that lies in the other; none where they are as long, or neither does. */
function pieceOf(first: PreparedSound, second: PreparedSound): 'first' | 'second' | 'none' {
  const isFirstLonger = first.samples.length > second.samples.length
  const [longer, shorter] = isFirstLonger ? [first, second] : [second, first]
  if (shorter.samples.length >= OVERLAP_MIN * longer.samples.length) return 'none'
  if (!isPieceOf(first, second)) return 'none'
  return isFirstLonger ? 'second' : 'first'
}

/** Whether one of two sounds is the other or a piece of it, such as a preview of a file. */
export function isPieceOf(one: PreparedSound, other: PreparedSound): boolean {
  return recordingLikeness(one, other, 'shorter') >= SAME_RECORDING
}

/** Pairs of sounds that share marks at one displacement. */
function alikePairs(marks: readonly (Uint32Array | null)[]): [number, number][] {
  const places = new Map<number, { readonly sound: number; readonly frame: number }[]>()
  marks.forEach((list, index) => {
    list?.forEach((mark, frame) => {
      if (mark === 0) return
      const known = places.get(mark)
      if (known) known.push({ sound: index, frame })
      else places.set(mark, [{ sound: index, frame }])
    })
  })
  const counts = new Map<number, number>()
  const pairs = new Set<number>()
  const count = marks.length
  for (const list of places.values()) {
    if (list.length < 2 || list.length > COMMON_MARK) continue
    for (let a = 0; a < list.length; a++) {
      for (let b = a + 1; b < list.length; b++) {
        const [x, y] = [list[a], list[b]] as [(typeof list)[number], (typeof list)[number]]
        if (x.sound === y.sound) continue
        const pair = x.sound * count + y.sound
        const key = pair * DISPLACEMENTS + Math.round((y.frame - x.frame) / 2) + DISPLACEMENTS / 2
        const seen = (counts.get(key) ?? 0) + 1
        counts.set(key, seen)
        if (seen >= MARKS_MIN) pairs.add(pair)
      }
    }
  }
  return [...pairs].map((pair) => [Math.floor(pair / count), pair % count])
}

/**
 * Highest normalised correlation of two whitened sounds over all displacements with enough overlap, 0 to 1.
 *
 * @param overlapOf Of which of the two the overlap has to be most: the longer one, so that lengths are alike, or the shorter one.
 */
export function recordingLikeness(
  first: PreparedSound,
  second: PreparedSound,
  overlapOf: 'longer' | 'shorter' = 'longer',
): number {
  const lengths = [first.samples.length, second.samples.length] as const
  if (overlapOf === 'longer' && Math.min(...lengths) < OVERLAP_MIN * Math.max(...lengths)) return 0
  const a = whitenedSound(first.samples.subarray(0, COMPARED_FRAMES[overlapOf]))
  const b = whitenedSound(second.samples.subarray(0, COMPARED_FRAMES[overlapOf]))
  const size = 2 ** Math.ceil(Math.log2(a.length + b.length))
  const re = new Float32Array(size)
  const im = new Float32Array(size)
  re.set(a)
  im.set(b)
  const fft = new Fft(size)
  fft.forward(re, im)
  const cross = crossSpectrum(re, im)
  fft.inverse(cross.re, cross.im)
  const energyA = cumulativeEnergy(a)
  const energyB = cumulativeEnergy(b)
  const overlapMin = OVERLAP_MIN * (overlapOf === 'longer' ? Math.max : Math.min)(a.length, b.length)
  let best = 0
  // a[n] stands on b[n - displacement].
  for (let displacement = -b.length + 1; displacement < a.length; displacement++) {
    const from = Math.max(0, displacement)
    const to = Math.min(a.length, displacement + b.length)
    if (to - from < overlapMin) continue
    const value = Math.abs(cross.re[(displacement + size) % size] as number) / size
    const energy =
      ((energyA[to] as number) - (energyA[from] as number)) *
      ((energyB[to - displacement] as number) - (energyB[from - displacement] as number))
    if (energy > 0) best = Math.max(best, value / Math.sqrt(energy))
  }
  return Math.min(1, best)
}

/** A times the conjugate of B, where A and B are the spectra of the two real signals that were transformed together. */
function crossSpectrum(re: Float32Array, im: Float32Array): { readonly re: Float32Array; readonly im: Float32Array } {
  const size = re.length
  const outRe = new Float32Array(size)
  const outIm = new Float32Array(size)
  for (let k = 0; k < size; k++) {
    const m = (size - k) % size
    const ar = ((re[k] as number) + (re[m] as number)) / 2
    const ai = ((im[k] as number) - (im[m] as number)) / 2
    const br = ((im[k] as number) + (im[m] as number)) / 2
    const bi = ((re[m] as number) - (re[k] as number)) / 2
    outRe[k] = ar * br + ai * bi
    outIm[k] = ai * br - ar * bi
  }
  return { re: outRe, im: outIm }
}

function cumulativeEnergy(samples: Float32Array): Float64Array {
  const sums = new Float64Array(samples.length + 1)
  for (let i = 0; i < samples.length; i++) sums[i + 1] = (sums[i] as number) + (samples[i] as number) ** 2
  return sums
}
