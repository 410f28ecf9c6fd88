import type { DemoSound } from './catalogue'
import { BED_STEMS, bedCutDown, bedPart, bedStem, MOODS, musicBed } from './music'
import type { Recipe } from './recipes'
import * as make from './recipes'
import { Chance } from './toolkit'

/** Things of one kind, from which the larger two libraries draw their sounds. */
interface Family {
  readonly category: string
  readonly tags: string
  readonly recipe: Recipe
  readonly things: readonly string[]
  /** Lowest and highest value of each number that the recipe takes. */
  readonly ranges: readonly (readonly [number, number])[]
}

const FAMILIES: readonly Family[] = [
  family(
    'Impacts',
    'drop fall low',
    make.thud,
    [
      [40, 240],
      [0.25, 0.9],
      [0.1, 1.3],
    ],
    'Crate on concrete|Sandbag|Hatch lid|Anvil block|Sleeping bag|Fence post|Toolbox|Coal scuttle|Oak chest',
  ),
  family(
    'Hits',
    'impact reveal boom',
    make.hit,
    [
      [36, 80],
      [0.8, 3],
      [0.05, 1],
    ],
    'Hit, basalt|Hit, wire drum|Hit, slow comet|Hit, deep well|Hit, tin roof|Hit, closing vault|Hit, meteor|Hit, low tide|Hit, copper lid',
  ),
  family(
    'Swells',
    'riser build-up tension',
    make.swell,
    [
      [0.9, 4],
      [80, 900],
      [2400, 11500],
    ],
    'Swell, lens opens|Swell, thin ice|Swell, headlamp|Swell, rising fog|Swell, far train|Swell, iron dawn|Swell, hive|Swell, red moon|Swell, turbine',
  ),
  family(
    'Movement',
    'whoosh swish pass transition',
    make.whoosh,
    [
      [0.3, 1.8],
      [380, 4200],
      [0.7, 2.6],
    ],
    'Whoosh, scarf|Whoosh, oar|Whoosh, tripod leg|Whoosh, drone|Whoosh, curtain|Whoosh, sledge|Whoosh, bicycle|Whoosh, fishing rod|Whoosh, banner',
  ),
  family(
    'Weather',
    'wind gust ambience outdoors',
    make.wind,
    [
      [4, 9],
      [0.05, 1.3],
      [170, 760],
    ],
    'Wind at the mast|Wind in heather|Wind over the tarn|Squall on canvas|Draught under a door|Wind in wires|Breath of the valley|Storm at the gable|Cold air on the scree',
  ),
  family(
    'Switches',
    'click lever button',
    make.switchClack,
    [
      [800, 4300],
      [0.015, 0.13],
      [0.1, 1.3],
    ],
    'Rocker switch|Key switch|Foot pedal|Torch button|Fuse lever|Shutter release|Thermostat|Bell push|Lens latch',
  ),
  family(
    'Machines',
    'motor engine gears',
    make.motor,
    [
      [50, 130],
      [1.8, 4.5],
      [0.2, 1],
    ],
    'Pump in the shed|Cable drum|Old generator|Film projector|Bench grinder|Compressor|Lathe|Hand drill|Heating fan',
  ),
  family(
    'Machines',
    'servo robot telescope mount',
    make.servo,
    [
      [180, 700],
      [640, 1900],
      [0.4, 2.2],
    ],
    'Camera head turns|Filter wheel|Dish tracks|Sliding rail|Robot wrist|Lift gate|Focus ring|Mirror cover|Plotter arm',
  ),
  family(
    'Animals',
    'bird night call',
    make.owl,
    [
      [300, 760],
      [1, 4],
      [0.28, 0.6],
    ],
    'Owl behind the barn|Dove at dusk|Cuckoo of the glen|Night heron|Tawny at the gate|Grouse|Wood pigeon|Snipe|Curlew',
  ),
  family(
    'Ice',
    'frozen crack frost',
    make.iceCrack,
    [
      [0.5, 2.4],
      [3, 22],
      [1100, 5600],
    ],
    'Ice on the bucket|Icicle falls|Pond edge|Frozen puddle|Glacier tongue|Ice tray|Frost on glass|River ice|Snow crust',
  ),
  family(
    'Paper',
    'page rustle leaf',
    make.pageTurn,
    [
      [0.45, 2.2],
      [0.6, 1.6],
    ],
    'Logbook page|Sky chart|Envelope|Newspaper|Sketch pad|Parcel wrap|Ticket|Calendar leaf|Blueprint',
  ),
  family(
    'Radio',
    'static noise hiss tune',
    make.radioStatic,
    [
      [1, 4],
      [420, 1700],
      [0.1, 1.4],
    ],
    'Static, long wave|Receiver warms up|Static, aurora|Beacon lost|Weather band|Static, thin|Numbers station hush|Walkie hiss|Carrier drifts',
  ),
  family(
    'Shimmer',
    'sparkle bells stars',
    make.shimmer,
    [
      [1.5, 4],
      [900, 2600],
      [5, 22],
    ],
    'Shimmer, frost|Shimmer, lamp glass|Shimmer, comet tail|Shimmer, dew|Shimmer, first star|Shimmer, wind chime|Shimmer, brass|Shimmer, lake|Shimmer, dust',
  ),
  family(
    'Kitchen',
    'water steam tea',
    make.kettle,
    [
      [2, 5],
      [1900, 2900],
      [0.1, 0.6],
    ],
    'Enamel kettle|Camp kettle|Moka pot|Steam valve|Urn|Milk pan|Whistling lid|Tea boiler|Small kettle',
  ),
  family(
    'Kitchen',
    'pour water cup',
    make.pour,
    [
      [1, 3.4],
      [260, 800],
    ],
    'Soup into a bowl|Juice|Flask filled|Bath tap|Watering can|Coffee poured|Rain barrel|Petrol can|Ink bottle',
  ),
  family(
    'Doors',
    'door metal slide shutter',
    make.shutter,
    [
      [0.8, 2.6],
      [4, 24],
      [110, 260],
    ],
    'Roller door|Garage|Blind pulled|Locker|Cage gate|Hangar|Bread bin|Ship hatch|Lift cage',
  ),
  family(
    'Steps',
    'footsteps walk',
    make.steps,
    [
      [3, 7],
      [0.36, 0.74],
      [0.1, 1.3],
    ],
    'Steps in a corridor|Steps on shingle|Steps up a ladder|Steps in slush|Steps on straw|Hurried steps|Steps on slate|Steps on a jetty|Steps, tired',
  ),
  family(
    'Ambience',
    'room tone hum outdoors',
    make.ambience,
    [
      [5, 10],
      [40, 120],
      [0, 1],
    ],
    'Observatory at noon|Boiler room|Empty hall|Moor at night|Tent in rain light|Library|Workshop idle|Cellar|Attic',
  ),
  family(
    'Signals',
    'beep electronic alert',
    make.pips,
    [
      [600, 2000],
      [1, 4],
      [0.05, 0.17],
    ],
    'Beep, door|Beep, scale|Beep, depth|Beep, ready|Beep, battery|Beep, two floors|Beep, timer|Beep, mount|Beep, fault',
  ),
]

function family(category: string, tags: string, recipe: Recipe, ranges: Family['ranges'], things: string): Family {
  return { category, tags, recipe, ranges, things: things.split('|') }
}

/** Names as long as careless uploaders make them: 120 characters. */
const LONG_NAMES: readonly string[] = [
  'Observatory dome rolling open on a cold night recorded from inside with the small microphone behind the counterweights 3',
  'Very long gust over the western ridge with the flag halyard beating the mast and somebody closing the car far below it 2',
]

interface LibraryPlan {
  readonly library: DemoSound['library']
  readonly seed: number
  readonly manner: string
  readonly makers: readonly string[]
  readonly formats: readonly DemoSound['format'][]
  readonly licences: readonly string[]
  readonly idOf: (index: number) => string
}

/** The sounds of one of the larger libraries; some are listed wrongly, as in any large catalogue. */
function familySounds(plan: LibraryPlan): DemoSound[] {
  const chance = new Chance(plan.seed)
  const pick = <T>(list: readonly T[]): T => list[Math.floor(chance.between(0, list.length))] as T
  const rows = FAMILIES.flatMap((one) => one.things.map((thing) => ({ one, thing })))
  return rows.map(({ one, thing }, index): DemoSound => {
    const numbers = one.ranges.map(([low, high]) => Math.round(chance.between(low, high) * 1000) / 1000)
    return {
      library: plan.library,
      id: plan.idOf(index),
      title:
        LONG_NAMES[index / 60 - 1] && plan.library === 'skerryview'
          ? (LONG_NAMES[index / 60 - 1] as string)
          : `${thing}${plan.manner}`,
      maker: index % 29 === 17 ? '' : pick(plan.makers),
      category: index % 37 === 20 ? '' : one.category,
      licence: pick(plan.licences),
      format: pick(plan.formats),
      tags: index % 31 === 9 ? '' : one.tags,
      recipe: one.recipe,
      // Whole numbers where a recipe counts things.
      numbers:
        one.recipe === make.owl || one.recipe === make.pips
          ? [numbers[0] as number, Math.round(numbers[1] as number), numbers[2] as number]
          : numbers,
      ...(index % 23 === 11 ? { listedDurationS: 0.1 } : {}),
      kind: one.category === 'Ambience' || one.category === 'Weather' ? 'ambience' : 'effect',
    }
  })
}

const BEDS: readonly (readonly [string, number, number, number])[] = [
  ['Bed for a long exposure', 72, 0, 0],
  ['Bed, climbing the hill', 96, 1, 0],
  ['Bed, the needle moves', 118, 2, 0],
  ['Bed under new moon', 66, 3, 1],
  ['Bed, tin robot', 124, 4, 0],
  ['Bed, all mirrors open', 88, 5, 1],
  ['Bed, slow tea', 78, 0, 1],
  ['Bed, before the frost', 84, 3, 0],
]

function beds(library: DemoSound['library'], licences: readonly string[], from: number, to: number): DemoSound[] {
  return BEDS.slice(from, to).map(
    ([title, tempoBpm, mood, voice], index): DemoSound => ({
      library,
      id: library === 'pell-marrow' ? String(9001 + index) : `sk-m${index + 1}`,
      title,
      maker: 'Corrie Voss',
      category: 'Music',
      licence: licences[index % licences.length] as string,
      format: 'flac',
      tags: `music bed ${MOODS[mood]}`,
      recipe: musicBed,
      numbers: [tempoBpm, mood, voice, 3],
      kind: 'music',
      tempoBpm,
      mood: MOODS[mood],
      vocals: voice > 0,
    }),
  )
}

/** Pell & Marrow: every sound has three prices. */
export const PELL_SOUNDS: readonly DemoSound[] = [
  ...familySounds({
    library: 'pell-marrow',
    seed: 71,
    manner: ', close',
    makers: ['Pell & Marrow', 'Anstey Room', 'Grit Foundry'],
    formats: ['wav', 'wav', 'flac'],
    licences: ['300', '450', '700'],
    idOf: (index) => String(1001 + index),
  }),
  ...beds('pell-marrow', ['1500', '2200'], 0, 4),
]

/** Skerryview's collection: some sounds ask for a credit, some do not. */
export const SKERRY_SOUNDS: readonly DemoSound[] = [
  ...familySounds({
    library: 'skerryview',
    seed: 137,
    manner: ', from afar',
    makers: ['Ness Archive', 'Tilda Oak', 'Halfmoon Yard', 'Brae'],
    formats: ['mp3', 'ogg', 'mp3'],
    licences: ['open', 'named'],
    idOf: (index) => `sk-${(index * 53 + 7000).toString(36)}`,
  }),
  ...beds('skerryview', ['open', 'named'], 4, 8),
]

/** Beds of Heron & Slate, each in stems, in parts that join, and in a short version. Title, tempo, mood. */
const BEDS_IN_TAKES = [
  ['Bed, the long watch', 100, 1],
  ['Bed, first light on the dome', 112, 5],
] as const
const TAKEN_BARS = 4

export const HERON_BEDS: readonly DemoSound[] = BEDS_IN_TAKES.flatMap(([title, tempoBpm, mood], index) => {
  const bed: DemoSound = {
    library: 'heron-slate',
    id: `hs-b${index + 1}`,
    title,
    maker: 'Quiet Harbour',
    category: 'Music',
    licence: 'plan',
    format: 'flac',
    tags: `music bed ${MOODS[mood]}`,
    recipe: musicBed,
    numbers: [tempoBpm, mood, 0, TAKEN_BARS],
    kind: 'music',
    tempoBpm,
    mood: MOODS[mood],
    vocals: false,
  }
  const take = (
    is: NonNullable<DemoSound['of']>['is'],
    called: string,
    recipe: Recipe,
    numbers: readonly number[],
    place: number,
  ): DemoSound => ({
    ...bed,
    id: `${bed.id}-${is[0]}${place}`,
    title: `${title}, ${called}`,
    recipe,
    numbers,
    of: { id: bed.id, is, called },
  })
  const rest = bed.numbers
  return [
    bed,
    ...BED_STEMS.slice(0, 3).map((name, stem) => take('stem', name, bedStem, [stem, ...rest], stem + 1)),
    take('piece', 'opening', bedPart, [0, 1, ...rest], 1),
    take('piece', 'loop', bedPart, [1, TAKEN_BARS - 1, ...rest], 2),
    take('piece', 'ending', bedPart, [TAKEN_BARS - 1, TAKEN_BARS, ...rest], 3),
    take('edit', 'cut down', bedCutDown, rest, 1),
  ]
})
