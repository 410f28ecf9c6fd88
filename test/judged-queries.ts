import { DEMO_SOUNDS } from '../demo/synthesis/catalogue'
import { categoryOf, Finder, parsedQuery, SegmentBuilder, type Vocabulary } from '../src/core/finding'
import { PLAIN_SOUND } from './plain-sound'

/**
 * Queries over the demo catalogue with what a person looking for it would want to see: what it means outright, and what would do.
 * Each pattern is looked for in "title | category"; a sound that matches the first is worth 3, one that matches only the second 1.
 */
export const JUDGED: readonly (readonly [query: string, wanted: RegExp, fair: RegExp | null])[] = [
  ['owl', /^owl|owl,|owl on|owl behind|young owl/i, /tawny|screech/i],
  ['owl far', /^owl, far off/i, /^owl.*afar|owl behind/i],
  ['kettle', /kettle/i, /tea boiler|whistling lid|urn/i],
  ['kettle whistle', /kettle, only the whistle/i, /kettle.*\|/i],
  ['ketle', /kettle/i, /tea boiler|whistling lid/i],
  ['tea', /^tea |tea boiler|slow tea/i, /kettle|moka|urn|milk pan|whistling|steam valve/i],
  ['thud', /thud/i, /\| impacts/i],
  ['thump', /thud/i, /\| impacts/i],
  ['thd', /thud/i, /\| impacts/i],
  ['thud book', /thud, book/i, null],
  ['flour', /flour sack/i, null],
  ['swell', /^swell/i, /\| swells/i],
  ['riser', /^swell/i, /\| swells/i],
  ['build-up', /^swell/i, /\| swells/i],
  ['build up', /^swell/i, /\| swells/i],
  ['buildup', /^swell/i, /\| swells/i],
  ['swell slow', /swell, slow dawn|swell, very long night/i, null],
  ['swell short', /swell, short breath|swell, two seconds/i, null],
  ['swel', /^swell/i, /\| swells/i],
  ['whoosh', /^whoosh/i, /\| movement/i],
  ['swoosh', /^whoosh/i, /\| movement/i],
  ['swish', /^whoosh/i, /\| movement/i],
  ['whosh', /^whoosh/i, /\| movement/i],
  ['whoosh low', /whoosh, big and low/i, null],
  ['whoosh page', /whoosh, page to page/i, null],
  ['hit', /^hit|reveal hit|bronze hit/i, /\| hits/i],
  ['impact', /\| hits|\| impacts/i, /thud/i],
  ['boom', /^hit|reveal hit|\| hits/i, /thud/i],
  ['reveal hit', /reveal hit/i, /\| hits/i],
  ['cold iron', /cold iron/i, /iron dawn/i],
  ['ice', /^ice |pond ice|river ice|^ice|thin ice/i, /\| ice/i],
  ['ice crack', /^ice crack/i, /\| ice/i],
  ['"ice crack"', /^ice crack/i, null],
  ['frost', /frost/i, /\| ice/i],
  ['frozen', /frozen|frost|^ice/i, /\| ice/i],
  ['wind', /^wind|wind,/i, /\| weather/i],
  ['windy', /wind/i, /\| weather/i],
  ['gust', /gust|wind|gale|squall/i, /\| weather/i],
  ['storm', /storm/i, /gale|squall|wind/i],
  ['breeze', /breeze/i, /wind|\| weather/i],
  ['door', /door|gate|\| doors/i, null],
  ['gate', /gate/i, /\| doors/i],
  ['garage', /garage/i, null],
  ['switch', /switch/i, /\| switches/i],
  ['button', /button/i, /\| switches/i],
  ['relay', /relay/i, /breaker/i],
  ['click', /switch|button|\| switches/i, null],
  ['motor', /motor/i, /\| machines/i],
  ['engine', /motor|generator|\| machines/i, null],
  ['servo', /servo/i, /robot wrist|mirror cover|filter wheel|plotter|focus ring|camera head|dish tracks/i],
  ['robot', /robot/i, /servo|\| machines/i],
  ['dome', /dome/i, /observatory/i],
  ['observatory', /observatory|dome/i, null],
  ['shutter', /shutter/i, /\| doors/i],
  ['page turn', /page turn/i, /\| paper/i],
  ['page', /page/i, /\| paper/i],
  ['paper', /\| paper/i, null],
  ['newspaper', /newspaper/i, /\| paper/i],
  ['static', /static/i, /\| radio/i],
  ['radio', /radio static|\| radio/i, null],
  ['shimmer', /shimmer/i, null],
  ['sparkle', /shimmer/i, null],
  ['star', /^star shimmer|first star|star atlas/i, /shimmer/i],
  ['footstep', /step|boots|\| steps/i, null],
  ['walk', /step|boots|\| steps/i, null],
  ['steps snow', /snow, careful steps/i, null],
  ['stairs', /stair/i, null],
  ['beep', /^beep/i, /\| signals/i],
  ['warning', /warning tone/i, /beep/i],
  ['timer', /timer/i, null],
  ['bird', /\| animals/i, null],
  ['cuckoo', /cuckoo/i, /\| animals/i],
  ['room', /\| ambience|next room|control room|server room|boiler room/i, null],
  ['server room', /server room/i, null],
  ['music calm', /slow tea|long exposure/i, /\| music/i],
  ['bed', /^bed/i, null],
  ['water', /water|\| kitchen/i, null],
  ['pour', /poured|into a|\| kitchen/i, null],
  ['coffee', /coffee/i, null],
  ['far', /from afar|distant|far off|far lights|far train/i, null],
  ['owl -far', /^owl, four|^owl, two|screech|owl on the wall.*close|owl behind.*close/i, /owl/i],
]

/** The demo catalogue as the search holds it. */
export function demoFinder(vocabulary: Vocabulary): Finder {
  const finder = new Finder(vocabulary)
  const segment = new SegmentBuilder(finder.names)
  for (const [at, sound] of DEMO_SOUNDS.entries()) {
    const tags = sound.tags.split(' ').filter(Boolean)
    const { group, name } = categoryOf(sound.category, sound.title, tags)
    segment.add({
      ...PLAIN_SOUND,
      id: at + 1,
      title: sound.title,
      tags,
      group,
      category: name,
      maker: sound.maker,
      sourceName: sound.library,
      channels: 1,
      kind: sound.kind ?? 'effect',
      tempoBpm: sound.tempoBpm ?? null,
      mood: sound.mood ?? null,
      vocals: sound.vocals ?? null,
      licence: sound.licence,
      offer: sound.library,
    })
  }
  finder.replace(segment.finish())
  return finder
}

const TOP = 10

/**
 * Normalised discounted cumulative gain of the first ten results of a query, 0 to 1.
 *
 * Source: K. Järvelin, J. Kekäläinen, Cumulated gain-based evaluation of IR techniques, 2002.
 */
export function ndcgAt10(finder: Finder, [query, wanted, fair]: (typeof JUDGED)[number]): number {
  const gainOf = (index: number): number => {
    const { title, category } = DEMO_SOUNDS[index] as (typeof DEMO_SOUNDS)[number]
    const text = `${title} | ${category}`
    return wanted.test(text) ? 3 : fair?.test(text) ? 1 : 0
  }
  const { ids } = finder.find({
    query: parsedQuery(query),
    sort: 'best',
    limit: TOP,
    offset: 0,
    like: null,
    except: null,
    fits: null,
  })
  const ideal = DEMO_SOUNDS.map((_, index) => gainOf(index))
    .sort((a, b) => b - a)
    .slice(0, TOP)
  return discounted(ids.map((id) => gainOf(id - 1))) / discounted(ideal)
}

function discounted(gains: readonly number[]): number {
  return gains.reduce((sum, gain, rank) => sum + (2 ** gain - 1) / Math.log2(rank + 2), 0)
}
