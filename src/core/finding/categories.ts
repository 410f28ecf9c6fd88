import { stemOf, stemsOf, wordsOf } from './words'

/** The categories in two levels; the second is what most libraries call a category. */
const TREE: Readonly<Record<string, readonly string[]>> = {
  'Reveals and passages': ['Hits', 'Swells', 'Movement', 'Shimmer', 'Designed', 'Swooshes', 'Magic', 'Science fiction'],
  'Impacts and matter': [
    'Impacts',
    'Destruction',
    'Explosions',
    'Rocks',
    'Metal',
    'Wood',
    'Glass',
    'Plastic',
    'Ceramics',
    'Chains',
    'Dirt and sand',
  ],
  'Machines and power': [
    'Machines',
    'Motors',
    'Mechanical',
    'Electricity',
    'Tools',
    'Robots',
    'Vehicles',
    'Trains',
    'Boats',
    'Aircraft',
  ],
  'Doors and controls': ['Doors', 'Switches', 'User interface', 'Games', 'Clocks'],
  'Signals and radio': ['Signals', 'Radio', 'Alarms', 'Bells', 'Horns', 'Communications'],
  'Hands and household': ['Kitchen', 'Paper', 'Objects', 'Foley', 'Cloth', 'Food and drink', 'Rope', 'Toys', 'Sports'],
  People: ['Steps', 'Footsteps', 'Voices', 'Crowds', 'Fight', 'Weapons'],
  Animals: ['Animals', 'Birds', 'Creatures', 'Wings'],
  'Weather and water': ['Weather', 'Wind', 'Air', 'Rain', 'Snow', 'Ice', 'Water', 'Fire', 'Vegetation'],
  Places: ['Ambience'],
  Music: ['Music', 'Musical'],
}
/** Where sounds stand whose category is in no group. */
export const OTHER_GROUP = 'Other'
/** Second level of a sound that names no category and gives no hint of one. */
export const UNSORTED = 'Unsorted'

const GROUP_OF: ReadonlyMap<string, string> = new Map(
  Object.entries(TREE).flatMap(([group, names]) => names.map((name): [string, string] => [stemsOf(name), group])),
)
const NAME_OF: ReadonlyMap<string, string> = new Map(
  Object.values(TREE).flatMap((names) => names.map((name): [string, string] => [stemsOf(name), name])),
)

/** Words that, in title or tags, tell the category of a sound that names none. */
const HINTS: Readonly<Record<string, string>> = {
  beep: 'Signals',
  alert: 'Signals',
  alarm: 'Alarms',
  bell: 'Bells',
  riser: 'Swells',
  swell: 'Swells',
  whoosh: 'Movement',
  swish: 'Movement',
  impact: 'Hits',
  boom: 'Hits',
  thud: 'Impacts',
  drop: 'Impacts',
  door: 'Doors',
  click: 'Switches',
  motor: 'Machines',
  engine: 'Machines',
  servo: 'Machines',
  water: 'Kitchen',
  pour: 'Kitchen',
  tea: 'Kitchen',
  paper: 'Paper',
  page: 'Paper',
  rustle: 'Paper',
  footstep: 'Steps',
  step: 'Steps',
  walk: 'Steps',
  wind: 'Weather',
  rain: 'Weather',
  ice: 'Ice',
  frost: 'Ice',
  bird: 'Animals',
  owl: 'Animals',
  dog: 'Animals',
  static: 'Radio',
  radio: 'Radio',
  sparkle: 'Shimmer',
  shimmer: 'Shimmer',
  room: 'Ambience',
  ambience: 'Ambience',
  music: 'Music',
}
const HINT_OF: ReadonlyMap<string, string> = new Map(
  Object.entries(HINTS).map(([word, category]) => [stemOf(word), category]),
)

export interface Category {
  readonly group: string
  readonly name: string
}

/** Groups in the order in which they are shown; what stands in none comes last. */
export const CATEGORY_GROUPS: readonly string[] = [...Object.keys(TREE), OTHER_GROUP]

/**
 * Where a sound stands in the two levels: by the category that its source names; where it names none, by its tags and title.
 */
export function categoryOf(given: string, title: string, tags: readonly string[]): Category {
  const key = stemsOf(given)
  const group = GROUP_OF.get(key)
  if (group) return { group, name: NAME_OF.get(key) ?? given }
  if (given.trim() !== '') return { group: OTHER_GROUP, name: given.trim() }
  for (const word of [...tags.flatMap(wordsOf), ...wordsOf(title)]) {
    const name = HINT_OF.get(stemOf(word))
    if (name) return { group: GROUP_OF.get(stemsOf(name)) ?? OTHER_GROUP, name }
  }
  return { group: OTHER_GROUP, name: UNSORTED }
}
