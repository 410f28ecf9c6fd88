import { createRequire } from 'node:module'
import { type Standin, type StandinAnswer, type StandinRequest, serveStandin, wellBehaved } from './serve'

/** Entries of the hall: every subject with every way, place and take. */
export const HALL_COUNT = 200_000
const PAGE_SIZE = 24
const KEY = 'qh-small-hours'
const WINDOW_MS = 1000

const SUBJECTS =
  words(`anvil|awning|barrel|bell|bench|bicycle|blind|boat|bottle|bucket|cart|chain|chest|clock|crate|curtain|door|drawer|drum|engine|fan|
  fence|gate|gravel|hammer|hatch|hinge|ice|kettle|ladder|lamp|latch|lever|lock|pipe|plank|pulley|pump|rope|sack|saw|shutter|spade|stone|stove|
  tent|trolley|valve|wheel|window`)
const WAYS = words(
  'dropped|dragged|struck|shaken|opened|closed|scraped|rolled|tapped|lifted|turned|pushed|pulled|broken|wound|released|squeezed|thrown|caught|lowered',
)
const PLACES = words(
  'stairwell|cellar|courtyard|workshop|tunnel|attic|hall|shed|barn|chapel|garage|greenhouse|harbour|kitchen|quarry|station|tower|yard|corridor|forest',
)
const TAKES = HALL_COUNT / (SUBJECTS.length * WAYS.length * PLACES.length)
const MAKERS = ['Ada Quill', 'Bram Otter', 'Copper Lane', 'Dune & Daughter', 'Ellin Marsh', 'Fold Recordings']

function words(text: string): string[] {
  return text.split('|').map((word) => word.trim())
}

/** One entry, made from its number alone. */
export function hallEntry(index: number) {
  const at = (divisor: number, list: readonly string[]): string =>
    list[Math.floor(index / divisor) % list.length] as string
  const take = (index % TAKES) + 1
  const place = at(TAKES, PLACES)
  const way = at(TAKES * PLACES.length, WAYS)
  const subject = at(TAKES * PLACES.length * WAYS.length, SUBJECTS)
  const chance = Math.imul(index + 1, 2654435761) >>> 0
  return {
    subject,
    way,
    place,
    label: `${subject.replace(/^./, (first) => first.toUpperCase())} ${way} in a ${place}, ${take}`,
    by: MAKERS[chance % MAKERS.length] as string,
    secs: 0.4 + (chance % 260) / 100,
    isOpen: chance % 3 === 0,
  }
}

/** The hall's own licence; a later revision asks for a credit. */
function membersLicence(revision: number): string {
  const credit =
    revision < 5
      ? 'The hall and the recordist need not be named.'
      : 'Name the hall and the recordist wherever the video has a description, in this form: "MAKER, Quarry Hall".'
  return `Quarry Hall, members' licence, revision ${revision}

A member may use each sound in any number of videos that are published online, on any platform and in every country. The videos may earn from
adverts, sponsors and members. A sound may be cut, layered, slowed and mixed. What a member has published stays licensed for good.

${credit} The video remains the member's own, under whatever licence the member chooses.

The sounds may not be handed on as sounds, alone or in a collection. Broadcast on television or radio needs a licence of its own, and so does paid
advertising.`
}

/** What a stand-in of a hall needs to make sounds. */
export interface HallOptions {
  /** The sound of an entry: its preview (Ogg Vorbis) or the recording (WAV). */
  readonly audio: (index: number, part: 'preview' | 'recording') => Promise<Uint8Array>
  /** Requests that are answered within a second; more are told to wait. */
  readonly requestsPerS?: number
  readonly nowMs?: () => number
}

/**
 * Stand-in for a library that is far too large to be mirrored: it is searched, a page at a time, and asks who is too quick to wait. Longer than most:
 * one route after the other, to be read beside its description.
 */
export function serveQuarryHall(options: HallOptions, port: number): Promise<Standin> {
  const { audio, requestsPerS = 10, nowMs = Date.now } = options
  const control = wellBehaved(4)
  const takeouts = new Map<string, { readonly number: string; readonly ref: string }>()
  let window = { startMs: 0, count: 0 }
  const isTooQuick = (): boolean => {
    if (nowMs() - window.startMs >= WINDOW_MS) window = { startMs: nowMs(), count: 0 }
    return ++window.count > requestsPerS
  }
  const indexOf = (ref: string): number | null => {
    const index = /^q(\d{1,6})$/.exec(ref)?.[1]
    return index === undefined || Number(index) >= HALL_COUNT || control.withdrawn.includes(ref) ? null : Number(index)
  }

  return serveStandin(port, control, async ({ method, url, headers, body }): Promise<StandinAnswer> => {
    if (headers.authorization !== `Member ${KEY}`) return { status: 401, json: { error: 'no such member' } }
    if (isTooQuick()) return { status: 429, json: { error: 'slowly' }, headers: { 'Retry-After': '1' } }
    const [, route = '', name = '', part = ''] = url.pathname.split('/').map(decodeURIComponent)
    if (route === 'me') return { json: { membership: 'Hall member' } }
    if (route === 'find') return find(url)
    if (route === 'rights') return rights(name)
    if (route === 'listen') return sound(name, 'preview')
    if (route === 'takeouts' && part === 'file') return sound(name, 'recording')
    if (route === 'takeouts') return takeout({ method, url, body })
    return notHere()
  })

  function find(url: URL): StandinAnswer {
    const { searchParams } = url
    const asked = (searchParams.get('text') ?? '').toLowerCase().split(/\s+/).filter(Boolean)
    if (asked.length === 0) return { status: 400, json: { error: 'say what to look for' } }
    const page = Math.max(1, Number(searchParams.get('page') ?? 1) || 1)
    const [least, most] = [Number(searchParams.get('from') ?? 0), Number(searchParams.get('to') ?? 1e9)]
    const hits = matching(asked).filter((index) => {
      const { secs } = hallEntry(index)
      return secs >= least && secs <= most && !control.withdrawn.includes(`q${index}`)
    })
    return {
      json: {
        hits: hits.length,
        pages: Math.ceil(hits.length / PAGE_SIZE),
        entries: hits.slice((page - 1) * PAGE_SIZE, page * PAGE_SIZE).map(entryOf),
      },
    }
  }

  function rights(key: string): StandinAnswer {
    if (key === 'members')
      return {
        json: {
          name: "Members' licence",
          revision: control.edition,
          wording: `${membersLicence(control.edition)}${control.addendum}`,
        },
      }
    if (key !== 'cc-by') return notHere()
    return {
      json: {
        name: 'Creative Commons Attribution 4.0',
        revision: 1,
        spdx: 'CC-BY-4.0',
        page: 'https://creativecommons.org/licenses/by/4.0/',
        wording: openLicence().licenseText,
      },
    }
  }

  async function sound(ref: string, part: 'preview' | 'recording'): Promise<StandinAnswer> {
    const index = indexOf(ref)
    if (index === null) return notHere()
    const content = Buffer.from(await audio(index, part))
    return { bytes: { content, mime: part === 'preview' ? 'audio/ogg' : 'audio/wav' } }
  }

  /** The same request gives the same takeout. */
  function takeout({ method, url, body }: Pick<StandinRequest, 'method' | 'url' | 'body'>): StandinAnswer {
    if (method === 'GET') {
      const found = takeouts.get(url.searchParams.get('request') ?? '')
      return { json: { takeouts: found ? [takeoutOf(found)] : [] } }
    }
    const { request, ref } = JSON.parse(body || '{}') as { request?: unknown; ref?: unknown }
    if (typeof request !== 'string' || typeof ref !== 'string')
      return { status: 400, json: { error: 'request and ref' } }
    if (indexOf(ref) === null) return notHere()
    const made = takeouts.get(request) ?? { number: `T-${1000 + takeouts.size}`, ref }
    takeouts.set(request, made)
    return { json: takeoutOf(made) }
  }
}

function openLicence(): { licenseText: string } {
  return createRequire(import.meta.url)('spdx-license-list/licenses/CC-BY-4.0.json') as { licenseText: string }
}

function notHere(): StandinAnswer {
  return { status: 404, json: { error: 'not in the hall' } }
}

/** Entries in which every word begins a word. */
function matching(asked: readonly string[]): number[] {
  const lists = [SUBJECTS, WAYS, PLACES].map((list) => list.map((word) => asked.map((one) => word.startsWith(one))))
  const [subjects = [], ways = [], places = []] = lists
  const hits: number[] = []
  for (const [subject, inSubject] of subjects.entries())
    for (const [way, inWay] of ways.entries())
      for (const [place, inPlace] of places.entries()) {
        if (!asked.every((_, at) => inSubject[at] || inWay[at] || inPlace[at])) continue
        const first = ((subject * WAYS.length + way) * PLACES.length + place) * TAKES
        for (let take = 0; take < TAKES; take++) hits.push(first + take)
      }
  return hits
}

function entryOf(index: number) {
  const { label, by, secs, subject, way, place, isOpen } = hallEntry(index)
  return {
    ref: `q${index}`,
    label,
    by,
    time: `0:0${secs.toFixed(2)}`,
    shelf: 'Objects',
    about: `${subject}, ${way}; recorded in a ${place}`,
    rights: isOpen ? 'cc-by' : 'members',
  }
}

function takeoutOf({ number, ref }: { readonly number: string; readonly ref: string }) {
  const name = `${hallEntry(Number(ref.slice(1))).label.replace(/[^A-Za-z0-9]+/g, '-')}.wav`
  return { number, href: `/takeouts/${ref}/file`, name }
}
