/** The parts of a file name after the Universal Category System. */
export interface UcsName {
  /** "DOORWood". */
  readonly catId: string
  /** In words: "Doors", or null for a category that is not in the table. */
  readonly category: string | null
  readonly fxName: string
  readonly creatorId: string
  readonly sourceId: string
  /** What comes after the fourth part; empty where nothing does. */
  readonly userData: string
}

/** Categories by the capitals that a CatID starts with. Source: Universal Category System, version 8, those that are common. */
const CATEGORIES: ReadonlyMap<string, string> = new Map(
  Object.entries({
    AIR: 'Air',
    AERO: 'Aircraft',
    ALRM: 'Alarms',
    AMB: 'Ambience',
    ANML: 'Animals',
    BELL: 'Bells',
    BIRD: 'Birds',
    BOAT: 'Boats',
    CERM: 'Ceramics',
    CHAIN: 'Chains',
    CLOCK: 'Clocks',
    CLOTH: 'Cloth',
    COMM: 'Communications',
    CREA: 'Creatures',
    CRWD: 'Crowds',
    DSGN: 'Designed',
    DEST: 'Destruction',
    DIRT: 'Dirt and sand',
    DOOR: 'Doors',
    ELEC: 'Electricity',
    EXPL: 'Explosions',
    FEET: 'Footsteps',
    FGHT: 'Fight',
    FIRE: 'Fire',
    FOOD: 'Food and drink',
    FOLY: 'Foley',
    GAME: 'Games',
    GLAS: 'Glass',
    HORN: 'Horns',
    ICE: 'Ice',
    MACH: 'Machines',
    MAGC: 'Magic',
    MECH: 'Mechanical',
    METL: 'Metal',
    MOTR: 'Motors',
    MUSC: 'Musical',
    OBJ: 'Objects',
    PAPR: 'Paper',
    PLAS: 'Plastic',
    RAIN: 'Rain',
    ROBT: 'Robots',
    ROCK: 'Rocks',
    ROPE: 'Rope',
    SCIF: 'Science fiction',
    SNOW: 'Snow',
    SPRT: 'Sports',
    SWSH: 'Swooshes',
    TOOL: 'Tools',
    TOYS: 'Toys',
    TRN: 'Trains',
    UI: 'User interface',
    VEGE: 'Vegetation',
    VEH: 'Vehicles',
    VOX: 'Voices',
    WATR: 'Water',
    WEAP: 'Weapons',
    WIND: 'Wind',
    WNGS: 'Wings',
    WOOD: 'Wood',
  }),
)

const CAT_ID = /^([A-Z]{2,6})([A-Z][a-z]\w*|[A-Z]?)(?:-[\w ]+)?$/

/**
 * Reads `CatID_FXName_CreatorID_SourceID`, with or without user data behind it.
 *
 * @param stem A file name without folder and ending. @returns null for any other name.
 */
export function ucsName(stem: string): UcsName | null {
  const [catId = '', fxName = '', creatorId = '', sourceId = '', ...rest] = stem.split('_').map((part) => part.trim())
  if (!CAT_ID.test(catId) || fxName === '' || creatorId === '' || sourceId === '') return null
  return { catId, category: categoryOf(catId), fxName, creatorId, sourceId, userData: rest.join(' ') }
}

/** The longest run of capitals that is a category: in "WINDGust" that is "WIND", not "WINDG". */
function categoryOf(catId: string): string | null {
  const capitals = /^[A-Z]+/.exec(catId)?.[0] ?? ''
  for (let length = capitals.length; length >= 2; length--) {
    const found = CATEGORIES.get(capitals.slice(0, length))
    if (found) return found
  }
  return null
}
