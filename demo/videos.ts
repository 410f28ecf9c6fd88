import type { UsePlace } from '../src/core/rights'

/** An effect laid into a demo video. */
export interface PlacedEffect {
  readonly title: string
  readonly atS: number
  /** Level relative to the file, dB. */
  readonly gainDb: number
  /** Part of the sound that is used, s; the whole when left out. */
  readonly part?: readonly [number, number]
}

/** One demo video: what is said, what is placed in the mix, and how it will be published. Verdicts are not written here. */
export interface DemoVideo {
  readonly file: string
  readonly title: string
  readonly durationS: number
  /** Music of no library that lies under it, or null where its music is a listed bed among the effects. */
  readonly bed: 'driven' | null
  readonly places: readonly UsePlace[]
  readonly earns: boolean
  /** Narration: second and sentence. */
  readonly narration: readonly (readonly [number, string])[]
  readonly effects: readonly PlacedEffect[]
  /** Sounds of `effects` that the channel acquired before. */
  readonly acquired: readonly string[]
  /** Sounds that were bought for it. */
  readonly bought?: readonly string[]
}

/** A music bed of a library, looped under a whole video. */
const BED = { title: 'Bed, before the frost', lengthS: 8.57, gainDb: -13 }
const LISTED_BED: readonly PlacedEffect[] = Array.from({ length: 5 }, (_, index) => ({
  title: BED.title,
  atS: index * BED.lengthS,
  gainDb: BED.gainDb,
}))

export const DEMO_VIDEOS: readonly DemoVideo[] = [
  {
    file: 'the-night-the-dome-froze.mp4',
    title: 'The night the dome froze',
    durationS: 44,
    bed: null,
    places: ['online'],
    earns: false,
    narration: [
      [1.2, 'It is nine below zero on the ridge, and the dome has not moved since noon.'],
      [8.6, 'We try the motor once. It hums, and the rail answers.'],
      [16.4, 'That is ice, breaking somewhere under the slit.'],
      [22.8, 'So we do what everyone does up here. We put the kettle on, and we wait.'],
      [31.5, 'And a little after two, the roof lets go.'],
    ],
    effects: [
      ...LISTED_BED,
      { title: 'Ridge wind, steady', atS: 0.4, gainDb: -15, part: [0, 9] },
      { title: 'Switch clack, old panel', atS: 9.4, gainDb: -9 },
      { title: 'Dome motor, starts and stops', atS: 11.6, gainDb: -14 },
      { title: 'Ice crack across the pond', atS: 15.1, gainDb: -10 },
      { title: 'Kettle, only the whistle', atS: 26.6, gainDb: -17 },
      { title: 'Swell, slow dawn', atS: 30.4, gainDb: -11 },
      { title: 'Dome shutter, slow and heavy', atS: 36.5, gainDb: -9 },
      { title: 'Star shimmer, sparse', atS: 39.2, gainDb: -12 },
    ],
    acquired: [
      BED.title,
      'Ridge wind, steady',
      'Switch clack, old panel',
      'Dome motor, starts and stops',
      'Ice crack across the pond',
      'Kettle, only the whistle',
      'Swell, slow dawn',
      'Dome shutter, slow and heavy',
      'Star shimmer, sparse',
    ],
  },
  {
    file: 'three-signals-before-dawn.mp4',
    title: 'Three signals before dawn',
    durationS: 38,
    bed: 'driven',
    places: ['online'],
    earns: true,
    narration: [
      [1, 'At ten past four the receiver woke up by itself.'],
      [6.2, 'Three pulses, then nothing. We swung the dish and lost it.'],
      [14.2, 'This is what it looked like on paper.'],
      [20, 'And this is what was really on the hill.'],
      [27.4, 'He has been there all winter.'],
    ],
    effects: [
      { title: 'Timer pips, three', atS: 0.6, gainDb: -14 },
      { title: 'Radio static, near a storm', atS: 3.6, gainDb: -15 },
      { title: 'Slew servo, long arc', atS: 9.2, gainDb: -13 },
      { title: 'Page turn, star atlas', atS: 13.4, gainDb: -8 },
      { title: 'Swell, two seconds', atS: 17.4, gainDb: -10 },
      { title: 'Hit, black water', atS: 19.4, gainDb: -9 },
      { title: 'Owl, four calls', atS: 23.4, gainDb: -12 },
      { title: 'Switch clack, old panel', atS: 30.2, gainDb: -8 },
      { title: 'Whoosh, big and low', atS: 33, gainDb: -9 },
    ],
    // The owl was grabbed from somewhere; nobody can say when.
    acquired: [
      'Timer pips, three',
      'Radio static, near a storm',
      'Slew servo, long arc',
      'Page turn, star atlas',
      'Swell, two seconds',
      'Hit, black water',
      'Switch clack, old panel',
      'Whoosh, big and low',
    ],
    bought: ['Hit, closing vault, close', 'Bed, climbing the hill'],
  },
]

/** A rough cut of a demo video: its picture and narration with little sound. */
export interface DemoCut {
  readonly file: string
  /** Title of the video that it is of. */
  readonly title: string
  readonly durationS: number
  readonly effects: readonly PlacedEffect[]
  /** Which parts of the whole cut it has, s, in order. */
  readonly parts: readonly (readonly [number, number])[]
}

/** Events of the picture of the whole rough cut, s: as they are drawn, so that what is found can be judged by them. */
export const ROUGH_CUT_EVENTS = [
  { kind: 'title-in', timeS: 0 },
  { kind: 'shot-change', timeS: 8 },
  { kind: 'shot-change', timeS: 15 },
  { kind: 'flash', timeS: 18.5 },
  { kind: 'shot-change', timeS: 22 },
  { kind: 'title-in', timeS: 24 },
  // It begins to go then.
  { kind: 'title-out', timeS: 27.33 },
  { kind: 'shot-change', timeS: 31 },
  { kind: 'stop', timeS: 37.5 },
  { kind: 'shot-change', timeS: 39 },
  { kind: 'title-in', timeS: 40.5 },
] as const

/** Words and a sound or two, as a cut is before anything was laid in: the bed, and the wind that came with the camera. */
const ROUGH_EFFECTS: readonly PlacedEffect[] = [
  ...LISTED_BED,
  { title: 'Ridge wind, steady', atS: 0.4, gainDb: -18, part: [0, 9] },
]

export const DEMO_CUTS: readonly DemoCut[] = [
  {
    file: 'dome-rough-cut-1.mp4',
    title: 'The night the dome froze',
    durationS: 44,
    effects: ROUGH_EFFECTS,
    parts: [[0, 44]],
  },
  // The look at the motor is shorter, and the kettle comes before the ice.
  {
    file: 'dome-rough-cut-2.mp4',
    title: 'The night the dome froze',
    durationS: 44,
    effects: ROUGH_EFFECTS,
    parts: [
      [0, 12],
      [13.5, 15],
      [22, 31],
      [15, 22],
      [31, 44],
    ],
  },
]

/** What the channel noted while the rough cut played: with a sound, with a short list, and with words alone. */
export const DEMO_MOMENTS: readonly {
  readonly atS: number
  readonly endS?: number
  readonly words: string
  readonly kind: 'hit' | 'swell' | 'spot' | 'ambience' | 'music' | 'silence'
  readonly weight?: 'nice'
  readonly note?: string
  readonly picked?: string
  readonly shortList?: readonly (readonly [string, string])[]
}[] = [
  {
    atS: 0.5,
    endS: 8,
    words: 'wind on the ridge',
    kind: 'ambience',
    picked: 'Ridge wind, steady',
    note: 'Softer once the voice begins.',
  },
  { atS: 9.5, words: 'motor hums', kind: 'spot', picked: 'Dome motor, starts and stops' },
  {
    atS: 15.083,
    words: 'ice breaks',
    kind: 'spot',
    shortList: [
      ['Ice crack across the pond', 'long, with an echo'],
      ['Knock on the hatch', 'dry; perhaps below it'],
    ],
  },
  { atS: 26.5, words: 'kettle whistles', kind: 'spot', weight: 'nice' },
  { atS: 34.5, endS: 37.5, words: 'swell up to the roof', kind: 'swell', shortList: [['Swell, slow dawn', '']] },
  { atS: 37.5, words: 'shutter slams', kind: 'hit' },
  { atS: 39, endS: 40.5, words: 'nothing, on purpose', kind: 'silence' },
]

/** Acquired, and used in no video yet. */
export const ALSO_ACQUIRED = [
  'Owl behind the barn, from afar',
  'Beep, depth, from afar',
  'Swell, thin ice, from afar',
  'Lamp pull cord',
]
