import { COST_KINDS, type CostKind, SOUND_KINDS, type SoundKind } from './filters'
import { Growing, Interner } from './growing'
import { wordsOf } from './words'

/** What the search knows of a sound. */
export interface FindingSound {
  readonly id: number
  readonly title: string
  readonly tags: readonly string[]
  readonly group: string
  readonly category: string
  readonly maker: string
  readonly folder: string
  readonly description: string
  readonly sourceName: string
  readonly durationS: number
  readonly loudnessLufs: number | null
  readonly channels: number | null
  readonly loops: boolean | null
  readonly kind: SoundKind
  readonly tempoBpm: number | null
  readonly mood: string | null
  readonly vocals: boolean | null
  readonly cost: CostKind
  /** Of the cheapest tier, in the smallest unit; null where nothing is sold. */
  readonly priceMinor: number | null
  readonly licence: string
  readonly creditOwed: boolean
  /** Sounds with the same offer key are under the same terms and tiers of the same source. */
  readonly offer: string
  /** Days since 1970-01-01. */
  readonly addedDay: number
  readonly kept: boolean
  readonly here: boolean
  /** Videos that it was heard in. */
  readonly usedCount: number
  /** 0 to 1 within its source; 0 where the source tells nothing. */
  readonly popularity: number
  /** Sound-alike vector of length 1, or null while it has not been listened to. */
  readonly vector: Float32Array | null
}

/** Names that several segments share, so that their counts can be added. */
export class Names {
  readonly sources = new Interner()
  /** "group|category". */
  readonly categories = new Interner()
  readonly makers = new Interner()
  readonly licences = new Interner()
  readonly moods = new Interner()
  readonly offers = new Interner()
}

/** Where a word stands, the place that counts most first. */
export const FIELDS = ['title-first', 'title', 'tags', 'category', 'maker', 'folder', 'description'] as const

/** A posting is a position in the segment, and above it an index into `FIELDS`. */
export const FIELD_SHIFT = 29
export const POSITION_MASK = 2 ** FIELD_SHIFT - 1

/** From here on a token is not a word but says which field begins. */
export const FIELD_MARK = 0xffffff00
/** In columns of yes, no and unknown. */
export const UNKNOWN = 0
export const NO = 1
export const YES = 2

/** Columns of values, one for each sound; NaN and `UNKNOWN` where nothing is known. */
export interface Columns {
  readonly ids: Uint32Array
  readonly source: Uint16Array
  readonly category: Uint16Array
  readonly maker: Uint32Array
  readonly licence: Uint16Array
  readonly mood: Uint16Array
  readonly offer: Uint16Array
  readonly kind: Uint8Array
  readonly cost: Uint8Array
  readonly priceMinor: Uint32Array
  readonly creditOwed: Uint8Array
  readonly channels: Uint8Array
  readonly loops: Uint8Array
  readonly vocals: Uint8Array
  readonly kept: Uint8Array
  readonly here: Uint8Array
  readonly usedCount: Uint16Array
  readonly addedDay: Uint32Array
  readonly durationS: Float32Array
  readonly loudnessLufs: Float32Array
  readonly tempoBpm: Float32Array
  readonly popularity: Float32Array
  /** The first eight letters of the title as a number, and the next eight. */
  readonly nameStart: Float64Array
  readonly nameRest: Float64Array
  /** What is added to the points of the words: shorter titles, kept, used before. */
  readonly bonus: Uint8Array
}

/** An immutable part of the index. */
export interface Segment {
  readonly count: number
  readonly columns: Columns
  /** In the order of their code units. */
  readonly words: readonly string[]
  /** Where the postings of each word begin; one more than there are words. */
  readonly starts: Uint32Array
  /** Sounds that have the word, by position in the segment, rising; in the upper bits the best field in which it stands there. */
  readonly postings: Uint32Array
  /** All words of every sound in order, with marks where a field begins. */
  readonly tokens: Uint32Array
  readonly tokenStarts: Uint32Array
  /** Vectors one after the other; NaN where there is none. Null when no sound has one. */
  readonly vectors: Float32Array | null
  readonly vectorLength: number
}

/** Index numbers 1 and up: 0 stands for none. */
const NO_MOOD = 0

/** Builds a segment from sounds that are given in rising order of their ids. */
export class SegmentBuilder {
  private readonly wordIndex = new Interner()
  private readonly tokens = new Growing(Uint32Array)
  private readonly tokenStarts = new Growing(Uint32Array)
  private readonly values = emptyColumns()
  /** Vectors of the sounds so far, NaN where there is none; empty while none has one. */
  private readonly vectors = new Growing(Float32Array)
  private vectorLength = 0
  private readonly shared = new Map<string, readonly string[]>()

  constructor(private readonly names: Names) {}

  add(sound: FindingSound): void {
    const { names, values } = this
    const titleWords = wordsOf(sound.title)
    this.addWords(sound, titleWords)
    this.addVector(sound.vector)
    values.ids.push(sound.id)
    values.source.push(names.sources.index(sound.sourceName))
    values.category.push(names.categories.index(`${sound.group}|${sound.category}`))
    values.maker.push(names.makers.index(sound.maker))
    values.licence.push(names.licences.index(sound.licence))
    values.mood.push(sound.mood === null ? NO_MOOD : names.moods.index(sound.mood) + 1)
    values.offer.push(names.offers.index(sound.offer))
    values.kind.push(SOUND_KINDS.indexOf(sound.kind))
    values.cost.push(COST_KINDS.indexOf(sound.cost))
    values.priceMinor.push(sound.priceMinor ?? 0)
    values.creditOwed.push(Number(sound.creditOwed))
    values.channels.push(Math.min(255, sound.channels ?? UNKNOWN))
    values.loops.push(either(sound.loops))
    values.vocals.push(either(sound.vocals))
    values.kept.push(Number(sound.kept))
    values.here.push(Number(sound.here))
    values.usedCount.push(Math.min(0xffff, sound.usedCount))
    values.addedDay.push(sound.addedDay)
    values.durationS.push(sound.durationS)
    values.loudnessLufs.push(sound.loudnessLufs ?? Number.NaN)
    values.tempoBpm.push(sound.tempoBpm ?? Number.NaN)
    values.popularity.push(sound.popularity)
    values.nameStart.push(nameKey(titleWords, 0))
    values.nameRest.push(nameKey(titleWords, NAME_KEY_LETTERS))
    values.bonus.push(bonusOf(sound, titleWords.length))
  }

  private addVector(vector: Float32Array | null): void {
    if (this.vectorLength === 0) {
      if (vector === null) return
      this.vectorLength = vector.length
      this.vectors.pushSame(Number.NaN, this.values.ids.length * vector.length)
    }
    if (vector?.length === this.vectorLength) this.vectors.pushAll(vector)
    else this.vectors.pushSame(Number.NaN, this.vectorLength)
  }

  private addWords(sound: FindingSound, titleWords: readonly string[]): void {
    const { tags, category, maker, folder, description } = sound
    this.tokenStarts.push(this.tokens.length)
    this.addField('title-first', titleWords.slice(0, 1))
    // The first word is said again, so that a phrase can begin with it; the better field counts.
    this.addField('title', titleWords)
    for (const tag of tags) this.addField('tags', wordsOf(tag))
    this.addField('category', this.sameWords(category))
    this.addField('maker', this.sameWords(maker))
    this.addField('folder', wordsOf(folder))
    this.addField('description', wordsOf(description))
  }

  /** Words of a text that many sounds share. */
  private sameWords(text: string): readonly string[] {
    const known = this.shared.get(text)
    if (known) return known
    const words = wordsOf(text)
    this.shared.set(text, words)
    return words
  }

  private addField(field: (typeof FIELDS)[number], words: readonly string[]): void {
    if (words.length === 0) return
    this.tokens.push(FIELD_MARK + FIELDS.indexOf(field))
    for (const word of words) this.tokens.push(this.wordIndex.index(word))
  }

  finish(): Segment {
    const count = this.values.ids.length
    this.tokenStarts.push(this.tokens.length)
    const order = this.wordIndex.texts.map((_, index) => index)
    const texts = this.wordIndex.texts
    order.sort((a, b) => ((texts[a] as string) < (texts[b] as string) ? -1 : 1))
    const renumbered = new Uint32Array(order.length)
    for (const [sorted, index] of order.entries()) renumbered[index] = sorted
    const tokens = this.tokens.toArray()
    for (const [at, token] of tokens.entries()) if (token < FIELD_MARK) tokens[at] = renumbered[token] as number
    const tokenStarts = this.tokenStarts.toArray()
    return {
      count,
      columns: columnsOf(this.values),
      words: order.map((index) => texts[index] as string),
      ...postingsOf(tokens, tokenStarts, order.length),
      tokens,
      tokenStarts,
      vectors: this.vectorLength > 0 ? this.vectors.toArray() : null,
      vectorLength: this.vectorLength,
    }
  }
}

function either(value: boolean | null): number {
  return value === null ? UNKNOWN : value ? YES : NO
}

/** Points for a title of one word, one less for each word more. */
const SHORT_TITLE_POINTS = 9
const KEPT_POINTS = 8
const USED_POINTS = 6

function bonusOf({ kept, usedCount }: FindingSound, titleWordCount: number): number {
  const short = Math.max(0, SHORT_TITLE_POINTS + 1 - titleWordCount)
  return short + (kept ? KEPT_POINTS : 0) + (usedCount > 0 ? USED_POINTS : 0)
}

/** Letters that a name key holds: more do not fit into the 53 bits of a number. */
const NAME_KEY_LETTERS = 8
const NAME_KEY_BASE = 64

function nameKey(titleWords: readonly string[], from: number): number {
  const letters = titleWords.join(' ')
  let key = 0
  for (let at = from; at < from + NAME_KEY_LETTERS; at++) {
    const code = at < letters.length ? letters.charCodeAt(at) - 31 : 0
    // "a" to "z" come after the digits and the space; all beyond come last.
    key = key * NAME_KEY_BASE + Math.max(0, Math.min(NAME_KEY_BASE - 1, code > 40 ? code - 38 : code))
  }
  return key
}

/** For each word the sounds that have it, and the best field in which they do. */
function postingsOf(tokens: Uint32Array, tokenStarts: Uint32Array, wordCount: number) {
  const starts = new Uint32Array(wordCount + 1)
  const lastSound = new Uint32Array(wordCount)
  const eachFirst = (act: (word: number, sound: number, field: number) => void): void => {
    lastSound.fill(0)
    for (let sound = 0; sound < tokenStarts.length - 1; sound++) {
      let field = 0
      for (let at = tokenStarts[sound] as number; at < (tokenStarts[sound + 1] as number); at++) {
        const token = tokens[at] as number
        if (token >= FIELD_MARK) field = token - FIELD_MARK
        else if (lastSound[token] !== sound + 1) {
          // Fields come in the order of their weight, so the first place is the best.
          lastSound[token] = sound + 1
          act(token, sound, field)
        }
      }
    }
  }
  eachFirst((word) => {
    starts[word + 1] = (starts[word + 1] as number) + 1
  })
  for (let word = 0; word < wordCount; word++)
    starts[word + 1] = (starts[word + 1] as number) + (starts[word] as number)
  const postings = new Uint32Array(starts[wordCount] as number)
  const next = starts.slice()
  eachFirst((word, sound, field) => {
    const at = next[word] as number
    postings[at] = ((field << FIELD_SHIFT) | sound) >>> 0
    next[word] = at + 1
  })
  return { starts, postings }
}

function emptyColumns() {
  return {
    ids: new Growing(Uint32Array),
    source: new Growing(Uint16Array),
    category: new Growing(Uint16Array),
    maker: new Growing(Uint32Array),
    licence: new Growing(Uint16Array),
    mood: new Growing(Uint16Array),
    offer: new Growing(Uint16Array),
    kind: new Growing(Uint8Array),
    cost: new Growing(Uint8Array),
    priceMinor: new Growing(Uint32Array),
    creditOwed: new Growing(Uint8Array),
    channels: new Growing(Uint8Array),
    loops: new Growing(Uint8Array),
    vocals: new Growing(Uint8Array),
    kept: new Growing(Uint8Array),
    here: new Growing(Uint8Array),
    usedCount: new Growing(Uint16Array),
    addedDay: new Growing(Uint32Array),
    durationS: new Growing(Float32Array),
    loudnessLufs: new Growing(Float32Array),
    tempoBpm: new Growing(Float32Array),
    popularity: new Growing(Float32Array),
    nameStart: new Growing(Float64Array),
    nameRest: new Growing(Float64Array),
    bonus: new Growing(Uint8Array),
  }
}

type GrowingColumns = ReturnType<typeof emptyColumns>

function columnsOf(values: GrowingColumns): Columns {
  const columns = Object.entries(values).map(([key, list]) => [key, list.toArray()])
  return Object.fromEntries(columns) as Columns
}
