import { HERON_BEDS, PELL_SOUNDS, SKERRY_SOUNDS } from './families'
import type { Recipe } from './recipes'
import * as make from './recipes'

/** The stand-in libraries of the demo. */
export const DEMO_LIBRARIES = ['tin-barn', 'heron-slate', 'pell-marrow', 'skerryview'] as const
export type DemoLibrary = (typeof DEMO_LIBRARIES)[number]

/** A sound of the demo libraries, before it is made. */
export interface DemoSound {
  readonly library: DemoLibrary
  readonly id: string
  readonly title: string
  readonly maker: string
  readonly category: string
  /** SPDX identifier, "plan", the price in cents of the lowest tier, or whether a credit is owed, as the library keeps it. */
  readonly licence: string
  readonly format: 'wav' | 'flac' | 'mp3' | 'ogg'
  readonly tags: string
  readonly recipe: Recipe
  readonly numbers: readonly number[]
  /** Title of the sound that this is the same recording of. */
  readonly sameAs?: string
  /** Length that the catalogue wrongly claims, s. */
  readonly listedDurationS?: number
  readonly kind?: 'effect' | 'ambience' | 'music'
  readonly tempoBpm?: number
  readonly mood?: string
  readonly vocals?: boolean
  /** Where it is a take of another sound: its id, what it is of it, and what it is called. Made of the same chance, as loud as it is in it. */
  readonly of?: { readonly id: string; readonly is: 'stem' | 'piece' | 'edit'; readonly called: string }
}

const CC0 = 'CC0-1.0'
const BY = 'CC-BY-4.0'
const NC = 'CC-BY-NC-4.0'
const SA = 'CC-BY-SA-4.0'
const ND = 'CC-BY-ND-4.0'
const BY3 = 'CC-BY-3.0'
const NCSA = 'CC-BY-NC-SA-4.0'

type BarnRow = readonly [string, string, string, string, DemoSound['format'], string, Recipe, ...number[]]

const BARN: readonly BarnRow[] = [
  [
    'Dome shutter, slow and heavy',
    'mossgate',
    'Machines',
    BY,
    'wav',
    'observatory roof metal rattle',
    make.shutter,
    2.8,
    22,
    130,
  ],
  [
    'Dome shutter, last slat',
    'mossgate',
    'Machines',
    BY,
    'flac',
    'observatory metal stop clang',
    make.shutter,
    1.2,
    6,
    155,
  ],
  ['Garden gate, sheet metal', 'tallow-and-pine', 'Doors', CC0, 'ogg', 'door barn rattle', make.shutter, 1.7, 11, 210],
  ['Thud on a wooden floor', 'oddment', 'Impacts', CC0, 'wav', 'drop fall low boom', make.thud, 70, 0.5, 0.5],
  ['Thud, book on a table', 'oddment', 'Impacts', CC0, 'flac', 'drop paper desk', make.thud, 112, 0.3, 0.8],
  ['Thud, flour sack', 'mossgate', 'Impacts', BY, 'wav', 'soft fall bag', make.thud, 84, 0.4, 1.1],
  ['Thud under the floor', 'brackwater', 'Impacts', NC, 'wav', 'cellar distant low', make.thud, 46, 0.9, 0.15],
  ['Knock on the hatch', 'brackwater', 'Impacts', BY, 'ogg', 'door wood knuckle', make.thud, 190, 0.22, 0.6],
  ['Reveal hit, cold iron', 'fernlight', 'Hits', BY, 'wav', 'impact cinematic metal trailer', make.hit, 46, 2.4, 0.5],
  ['Reveal hit, dry', 'fernlight', 'Hits', CC0, 'flac', 'impact short punch', make.hit, 58, 0.9, 0.15],
  ['Reveal hit, cathedral', 'brackwater', 'Hits', NC, 'wav', 'impact long room boom', make.hit, 41, 3.6, 0.4],
  ['Small bronze hit', 'tallow-and-pine', 'Hits', SA, 'ogg', 'impact bell metal', make.hit, 88, 1.6, 1.1],
  [
    'Swell, three seconds of frost',
    'fernlight',
    'Swells',
    BY,
    'wav',
    'riser build-up tension',
    make.swell,
    3,
    220,
    5600,
  ],
  ['Swell, slow dawn', 'fernlight', 'Swells', CC0, 'flac', 'riser build-up long', make.swell, 6, 120, 3200],
  ['Swell, short breath', 'marram', 'Swells', CC0, 'ogg', 'riser build-up quick', make.swell, 1.2, 300, 7000],
  ['Swell out of the static', 'brackwater', 'Swells', NC, 'wav', 'riser radio noise', make.swell, 2.4, 500, 8200],
  [
    'Whoosh, coat past the microphone',
    'marram',
    'Movement',
    CC0,
    'wav',
    'cloth pass swish',
    make.whoosh,
    0.7,
    900,
    0.9,
  ],
  ['Whoosh, thrown rope', 'marram', 'Movement', BY, 'flac', 'pass air swish', make.whoosh, 0.9, 1900, 1.8],
  ['Whoosh, big and low', 'oddment', 'Movement', CC0, 'wav', 'pass transition deep', make.whoosh, 1.4, 420, 1],
  ['Whoosh, thin blade of air', 'oddment', 'Movement', SA, 'ogg', 'pass fast bright', make.whoosh, 0.45, 3600, 2.4],
  ['Ridge wind, steady', 'mossgate', 'Weather', CC0, 'ogg', 'ambience hill gust outdoors', make.wind, 18, 0.35, 300],
  [
    'Ridge wind, whistling rail',
    'mossgate',
    'Weather',
    BY,
    'ogg',
    'ambience gust howl railing',
    make.wind,
    12,
    0.9,
    260,
  ],
  ['Wind in the stairwell', 'brackwater', 'Weather', NC, 'mp3', 'ambience draught indoors', make.wind, 15, 0.6, 190],
  [
    'Switch clack, old panel',
    'tallow-and-pine',
    'Switches',
    CC0,
    'wav',
    'click lever toggle',
    make.switchClack,
    1900,
    0.05,
    0.6,
  ],
  [
    'Switch clack, tiny',
    'tallow-and-pine',
    'Switches',
    CC0,
    'wav',
    'click toggle small',
    make.switchClack,
    3400,
    0.02,
    0.2,
  ],
  [
    'Breaker goes over',
    'brackwater',
    'Switches',
    BY,
    'flac',
    'click heavy relay power',
    make.switchClack,
    900,
    0.08,
    1.2,
  ],
  ['Lamp pull cord', 'oddment', 'Switches', ND, 'wav', 'click light string', make.switchClack, 2600, 0.12, 0.3],
  ['Owl, four calls', 'marram', 'Animals', BY, 'wav', 'bird night hoot forest', make.owl, 380, 4, 0.42],
  ['Owl, far off', 'marram', 'Animals', CC0, 'ogg', 'bird night hoot distant', make.owl, 340, 3, 0.55],
  ['Owl, two short', 'marram', 'Animals', CC0, 'flac', 'bird night hoot', make.owl, 430, 2, 0.36],
  ['Ice crack across the pond', 'fernlight', 'Ice', BY, 'wav', 'frozen lake snap frost', make.iceCrack, 1.8, 14, 3400],
  ['Ice crack, thin sheet', 'fernlight', 'Ice', CC0, 'flac', 'frozen snap frost small', make.iceCrack, 0.8, 6, 4600],
  ['Ice falls from the rail', 'mossgate', 'Ice', NC, 'wav', 'frozen drop shatter', make.iceCrack, 1.3, 22, 2600],
  ['Page turn, star atlas', 'tallow-and-pine', 'Paper', CC0, 'wav', 'book leaf large', make.pageTurn, 1.1, 1],
  ['Page turn, notebook', 'tallow-and-pine', 'Paper', CC0, 'ogg', 'book leaf small quick', make.pageTurn, 0.6, 1.5],
  ['Stiff map unfolded', 'oddment', 'Paper', BY, 'mp3', 'paper rustle chart', make.pageTurn, 1.9, 0.8],
  [
    'Radio static, drifting',
    'brackwater',
    'Radio',
    BY,
    'wav',
    'noise hiss shortwave tune',
    make.radioStatic,
    3.4,
    860,
    0.5,
  ],
  [
    'Radio static, near a storm',
    'brackwater',
    'Radio',
    NC,
    'flac',
    'noise crackle lightning',
    make.radioStatic,
    4.5,
    500,
    1.3,
  ],
  ['Star shimmer, high', 'fernlight', 'Shimmer', BY, 'wav', 'sparkle bells magic night', make.shimmer, 3, 1980, 16],
  ['Star shimmer, sparse', 'fernlight', 'Shimmer', CC0, 'flac', 'sparkle bells soft', make.shimmer, 4, 1480, 6],
  ['Kettle comes to the boil', 'oddment', 'Kitchen', BY, 'ogg', 'water whistle steam tea', make.kettle, 8, 2350, 0.45],
  ['Kettle, only the whistle', 'oddment', 'Kitchen', CC0, 'wav', 'steam tea sing', make.kettle, 3.2, 2620, 0.1],
  ['Tea poured into a mug', 'oddment', 'Kitchen', CC0, 'flac', 'water cup fill', make.pour, 2.8, 420],
  ['Steps on frozen gravel', 'mossgate', 'Steps', CC0, 'wav', 'footsteps walk path', make.steps, 5, 0.5, 0.9],
  [
    'Steps on boards, slow',
    'tallow-and-pine',
    'Steps',
    BY,
    'ogg',
    'footsteps walk wood floor',
    make.steps,
    4,
    0.66,
    0.15,
  ],
  ['Night by the hedge', 'marram', 'Ambience', CC0, 'ogg', 'crickets insects outdoors', make.ambience, 20, 0, 1],
  ['Control room at rest', 'brackwater', 'Ambience', NC, 'ogg', 'hum room tone indoors', make.ambience, 24, 50, 0],
  ['Timer pips, three', 'oddment', 'Signals', CC0, 'wav', 'beep electronic countdown', make.pips, 1320, 3, 0.09],
]

/** Came later: they stand behind all others, since the place in the list is the seed. */
const BARN_LATER: readonly BarnRow[] = [
  [
    'Relay in the rain box',
    'tallow-and-pine',
    'Switches',
    BY3,
    'wav',
    'click relay wet',
    make.switchClack,
    1250,
    0.09,
    0.9,
  ],
  ['Crane winch, distant', 'mossgate', 'Machines', NCSA, 'ogg', 'engine gears harbour', make.motor, 66, 3.4, 0.8],
]

type HeronRow = readonly [string, string, string, DemoSound['format'], string, Recipe, ...number[]]

const HERON: readonly HeronRow[] = [
  [
    'Dome motor, full turn',
    'Low Orchard',
    'Machines',
    'wav',
    'observatory engine gears rotate',
    make.motor,
    78,
    6.5,
    0.6,
  ],
  [
    'Dome motor, starts and stops',
    'Low Orchard',
    'Machines',
    'flac',
    'observatory engine short',
    make.motor,
    92,
    2.6,
    0.5,
  ],
  ['Winch under load', 'Low Orchard', 'Machines', 'wav', 'engine gears rope heavy', make.motor, 58, 4.2, 0.9],
  ['Slew servo, quick', 'Sable Row', 'Machines', 'wav', 'telescope mount robot', make.servo, 260, 940, 0.9],
  ['Slew servo, long arc', 'Sable Row', 'Machines', 'flac', 'telescope mount robot', make.servo, 220, 720, 2.6],
  ['Focus servo, tiny', 'Sable Row', 'Machines', 'wav', 'lens robot small', make.servo, 620, 1500, 0.45],
  ['Shutter thud', 'Low Orchard', 'Impacts', 'wav', 'door close heavy low', make.thud, 54, 0.8, 0.7],
  ['Case set down', 'Low Orchard', 'Impacts', 'wav', 'drop box floor', make.thud, 96, 0.36, 0.9],
  ['Mattress drop', 'Quiet Harbour', 'Impacts', 'flac', 'soft fall', make.thud, 60, 0.7, 0.25],
  ['Hit, black water', 'Quiet Harbour', 'Hits', 'wav', 'impact reveal deep', make.hit, 38, 3, 0.1],
  ['Hit, bright plate', 'Quiet Harbour', 'Hits', 'wav', 'impact reveal metal', make.hit, 72, 1.9, 0.9],
  ['Hit, first contact', 'Sable Row', 'Hits', 'flac', 'impact reveal space', make.hit, 52, 2.6, 0.6],
  ['Hit, stamp', 'Sable Row', 'Hits', 'wav', 'impact short logo', make.hit, 64, 0.7, 0.2],
  ['Swell, five beats', 'Quiet Harbour', 'Swells', 'wav', 'riser build-up tension', make.swell, 4, 160, 6200],
  ['Swell, two seconds', 'Quiet Harbour', 'Swells', 'wav', 'riser build-up short', make.swell, 2, 260, 6800],
  ['Swell, very long night', 'Sable Row', 'Swells', 'flac', 'riser build-up slow', make.swell, 9, 90, 4200],
  ['Swell, glass', 'Sable Row', 'Swells', 'wav', 'riser bright thin', make.swell, 2.6, 900, 11000],
  ['Whoosh, page to page', 'Quiet Harbour', 'Movement', 'wav', 'transition pass', make.whoosh, 0.55, 1700, 1.1],
  ['Whoosh, comet', 'Quiet Harbour', 'Movement', 'flac', 'transition space pass long', make.whoosh, 1.8, 800, 1.4],
  ['Whoosh, double', 'Sable Row', 'Movement', 'wav', 'transition pass swish', make.whoosh, 0.8, 2500, 1.6],
  ['Gale at the door', 'Low Orchard', 'Weather', 'ogg', 'wind storm howl ambience', make.wind, 16, 1.2, 420],
  ['Breeze in dry grass', 'Low Orchard', 'Weather', 'ogg', 'wind soft ambience', make.wind, 20, 0.1, 700],
  ['Panel switch, firm', 'Sable Row', 'Switches', 'wav', 'click lever clack', make.switchClack, 1500, 0.06, 0.9],
  ['Panel switch, soft', 'Sable Row', 'Switches', 'wav', 'click button', make.switchClack, 2300, 0.03, 0.3],
  ['Relay rack', 'Sable Row', 'Switches', 'flac', 'click electric', make.switchClack, 4100, 0.015, 0.15],
  ['Screech of a young owl', 'Low Orchard', 'Animals', 'wav', 'bird night call', make.owl, 720, 3, 0.3],
  ['Ice groan under the weir', 'Low Orchard', 'Ice', 'wav', 'frozen crack deep', make.iceCrack, 2.6, 8, 1200],
  ['Frost snaps', 'Low Orchard', 'Ice', 'flac', 'frozen crack small', make.iceCrack, 0.6, 4, 5200],
  ['Ledger closed', 'Quiet Harbour', 'Paper', 'wav', 'book shut page', make.pageTurn, 0.7, 0.6],
  ['Letters sorted', 'Quiet Harbour', 'Paper', 'ogg', 'paper rustle pages', make.pageTurn, 2.4, 1.3],
  ['Static between stations', 'Sable Row', 'Radio', 'wav', 'noise radio hiss tune', make.radioStatic, 2.2, 1300, 0.3],
  ['Deep space carrier', 'Sable Row', 'Radio', 'flac', 'noise radio signal', make.radioStatic, 5, 640, 0.1],
  ['Shimmer, falling dust', 'Quiet Harbour', 'Shimmer', 'wav', 'sparkle bells stars', make.shimmer, 2.4, 2340, 22],
  ['Shimmer, far lights', 'Quiet Harbour', 'Shimmer', 'flac', 'sparkle bells stars slow', make.shimmer, 5, 1240, 8],
  ['Kettle in the next room', 'Low Orchard', 'Kitchen', 'ogg', 'water whistle tea', make.kettle, 6, 2080, 0.6],
  ['Water into a flask', 'Low Orchard', 'Kitchen', 'wav', 'pour cup fill', make.pour, 1.7, 610],
  ['Boots on the metal stair', 'Quiet Harbour', 'Steps', 'wav', 'footsteps climb', make.steps, 6, 0.42, 0.4],
  ['Snow, careful steps', 'Quiet Harbour', 'Steps', 'flac', 'footsteps walk winter', make.steps, 4, 0.7, 1.3],
  ['Server room', 'Sable Row', 'Ambience', 'ogg', 'hum fans room tone', make.ambience, 26, 60, 0],
  ['Summer night, still', 'Low Orchard', 'Ambience', 'ogg', 'crickets insects outdoors', make.ambience, 30, 0, 0.7],
  ['Ready tone', 'Sable Row', 'Signals', 'wav', 'beep confirm electronic', make.pips, 990, 2, 0.12],
  ['Warning tone', 'Sable Row', 'Signals', 'wav', 'beep alarm electronic', make.pips, 740, 4, 0.16],
]

/** All sounds of the demo libraries, in a fixed order (which is also their seed). */
export const DEMO_SOUNDS: readonly DemoSound[] = [
  ...BARN.map(barnSound),
  ...HERON.map(
    ([title, maker, category, format, tags, recipe, ...numbers], index): DemoSound => ({
      library: 'heron-slate',
      id: `hs-${(index * 37 + 4096).toString(16)}`,
      title,
      maker,
      category,
      licence: 'plan',
      format,
      tags,
      recipe,
      numbers,
    }),
  ),
  again('skerryview', 'sk-t1', 'Ice crack across the pond', 'Pond ice lets go', 'named'),
  again('skerryview', 'sk-t2', 'Kettle, only the whistle', 'Kettle song', 'open'),
  again('pell-marrow', '8001', 'Hit, black water', 'Black water (single)', '700'),
  again('pell-marrow', '8002', 'Owl, four calls', 'Owl on the wall, four calls', '450'),
  ...BARN_LATER.map((row, index) => barnSound(row, BARN.length + index)),
  ...PELL_SOUNDS,
  ...SKERRY_SOUNDS,
  ...HERON_BEDS,
]

/** A recording that a second library offers too, under its own name and terms. */
function again(library: DemoLibrary, id: string, sameAs: string, title: string, licence: string): DemoSound {
  const twin = [...BARN, ...HERON].find(([name]) => name === sameAs)
  if (!twin) throw new Error(`there is no “${sameAs}”`)
  const row = BARN.includes(twin as BarnRow)
    ? { tags: twin[5] as string, recipe: twin[6] as Recipe, numbers: twin.slice(7) as number[] }
    : { tags: twin[4] as string, recipe: twin[5] as Recipe, numbers: twin.slice(6) as number[] }
  return { library, id, title, maker: 'Halfmoon Yard', category: twin[2], licence, format: 'wav', sameAs, ...row }
}

function barnSound(
  [title, maker, category, licence, format, tags, recipe, ...numbers]: BarnRow,
  index: number,
): DemoSound {
  return {
    library: 'tin-barn',
    id: `tb${String(index + 101)}`,
    title,
    maker,
    category,
    licence,
    format,
    tags,
    recipe,
    numbers,
  }
}
