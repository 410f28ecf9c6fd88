import { createHash, createHmac } from 'node:crypto'
import {
  type LibraryFiles,
  type LibrarySound,
  libraryOf,
  type Standin,
  type StandinAnswer,
  serveStandin,
  soundFile,
  wellBehaved,
} from './serve'

const PAGE_SIZE = 16
const TOKEN_S = 300
const LINK_S = 60
const SECRET = 'heron-slate-signing'

/** The plan's licence; from edition 8 on, films for clients are another matter. */
const licence = (edition: number): string => `Heron & Slate — Studio plan licence, edition ${edition}

1. Who and what. This licence is between Heron & Slate and the holder of a Studio plan. It covers every sound that the
holder fetches from the shelf while the plan is active, in all countries.

2. Films and videos. You may use the sounds in films and videos that are published online, including channels that earn from
adverts, sponsors or members. Podcasts and radio plays that are published online are covered in the same way. Teaching
and use inside your own organisation are covered. ${
  edition < 8
    ? `You may make films for clients; the finished film passes to the client,
the sounds do not.`
    : `A film that is made for a client needs a plan of
the client's own.`
}

3. What is not covered. Paid advertising is not covered by this plan. Broadcast on television or radio is not covered by
this plan. Write to us for either.

4. Working with the sounds. You may cut, layer, pitch and mix the sounds. Your film stays yours, under whatever licence you
choose. The sounds may not be passed on by themselves.

5. How long. A film first published while your plan is active stays cleared for as long as it exists. A film that is first
published after the plan has ended is not covered.

6. Credit. No credit has to be given. We are glad of one.
`

/**
 * Stand-in for a subscription library: one licence; cursor paging; a token that expires; signed downloads.
 * Longer than most: one route after the other, to be read beside its description.
 */
export function serveHeronSlate(files: LibraryFiles, port: number, nowMs: () => number = Date.now): Promise<Standin> {
  const all = libraryOf(files)
  const plan = planPeriod(new Date(nowMs()))
  const control = wellBehaved(7, plan.until)
  const offered = (): LibrarySound[] => all.filter(({ id }) => !control.withdrawn.includes(id))
  const sign = (text: string): string => createHmac('sha256', SECRET).update(text).digest('hex').slice(0, 32)
  const validUntil = (text: string, until: string, signature: string): boolean =>
    signature === sign(`${text}.${until}`) && Number(until) > nowMs()

  return serveStandin(port, control, ({ method, url, headers, body }): StandinAnswer => {
    const [, kind, id = ''] = url.pathname.split('/').map(decodeURIComponent)
    if (kind === 'session' && method === 'POST') return session(body)
    if (kind === 'files') return signedFile(id, url.searchParams)
    const [until = '', signature = ''] = (headers.authorization ?? '').replace('Bearer ', '').split('.')
    if (!validUntil('token', until, signature)) return { status: 401, json: { fault: 'sign in first' } }
    if (kind === 'member') return { json: { plan: { name: 'Studio plan', from: plan.from, until: control.planUntil } } }
    if (kind === 'licence')
      return {
        json: { edition: String(control.edition), heading: 'Studio plan licence', text: licence(control.edition) },
      }
    if (kind === 'shelf') return shelf(url.searchParams.get('after') ?? '')
    const sound = offered().find((one) => one.id === id)
    if (!sound) return { status: 404, json: { fault: 'not on the shelf' } }
    if (kind === 'listen') return soundFile(files, sound, 'preview')
    if (kind === 'fetch' && method === 'POST') {
      if ((control.planUntil ?? '') < new Date(nowMs()).toISOString().slice(0, 10))
        return { status: 402, json: { fault: 'the plan has ended' } }
      return ticket(sound, String(headers['idempotency-key'] ?? ''), url.searchParams.get('file'))
    }
    return { status: 404, json: { fault: 'nothing here' } }
  })

  function session(body: string): StandinAnswer {
    const { client, secret } = JSON.parse(body || '{}') as { client?: string; secret?: string }
    if (client !== 'small-hours' || secret !== 'kettle-and-dome')
      return { status: 401, json: { fault: 'unknown client' } }
    const until = String(nowMs() + TOKEN_S * 1000)
    return { json: { access_token: `${until}.${sign(`token.${until}`)}`, expires_in: TOKEN_S } }
  }

  function shelf(after: string): StandinAnswer {
    const sounds = offered().filter(({ of }) => of === undefined)
    const start = after === '' ? 0 : sounds.findIndex((sound) => sound.id === after) + 1
    const items = sounds.slice(start, start + PAGE_SIZE)
    const last = items[items.length - 1]
    const more = last !== undefined && start + PAGE_SIZE < sounds.length
    return {
      json: {
        data: {
          items: items.map((sound) => ({
            uid: sound.id,
            title: sound.title,
            artist: sound.maker,
            len_ms: Math.round(sound.durationS * 1000),
            keywords: sound.tags.split(' ').join(', '),
            group: sound.category,
            blurb: `From the ${sound.maker} sessions.`,
            files: filesOf(sound),
            type: sound.kind === 'music' ? 'bed' : 'effect',
            ...(sound.tempoBpm ? { bpm: sound.tempoBpm, feel: sound.mood, sung: sound.vocals === true } : {}),
            ...takesOf(sound),
          })),
          next: more ? last.id : null,
        },
      },
    }
  }

  /** What a sound is to be had in beside the whole. */
  function takesOf({ id }: LibrarySound): object {
    const takes = offered().flatMap((take) =>
      take.of?.id === id
        ? [
            {
              uid: take.id,
              is: take.of.is,
              called: take.of.called,
              len_ms: Math.round(take.durationS * 1000),
              files: filesOf(take),
            },
          ]
        : [],
    )
    return takes.length > 0 ? { takes } : {}
  }

  /** The same order key gives the same order, so that asking twice buys once. */
  function ticket(sound: LibrarySound, orderKey: string, file: string | null): StandinAnswer {
    if (orderKey === '') return { status: 400, json: { fault: 'an idempotency key is needed' } }
    const wanted = file ?? sound.format
    if (!filesOf(sound).includes(wanted)) return { status: 404, json: { fault: 'no such file of this sound' } }
    const orderNo = `HS-${createHash('sha256').update(orderKey).digest('hex').slice(0, 8).toUpperCase()}`
    const until = String(nowMs() + LINK_S * 1000)
    const signature = sign(`${sound.id}.${wanted}.${until}`)
    const query = new URLSearchParams({ as: wanted, until, sig: signature })
    return { json: { order_no: orderNo, href: `/files/${sound.id}?${query}` } }
  }

  function signedFile(id: string, query: URLSearchParams): StandinAnswer {
    const sound = offered().find((one) => one.id === id)
    const wanted = query.get('as') ?? ''
    if (!sound || !validUntil(`${id}.${wanted}`, query.get('until') ?? '', query.get('sig') ?? ''))
      return { status: 403, json: { fault: 'this address has expired' } }
    return soundFile(files, sound, wanted === sound.format ? 'original' : 'preview')
  }
}

/** Every sound is to be had in full and as the smaller Ogg Vorbis. */
function filesOf({ format }: LibrarySound): string[] {
  return format === 'ogg' ? ['ogg'] : [format, 'ogg']
}

/** A year's plan that began eight months ago, on the first of the month. */
function planPeriod(now: Date): { from: string; until: string } {
  const day = (monthOffset: number, date: number): string =>
    new Date(Date.UTC(now.getUTCFullYear(), now.getUTCMonth() + monthOffset, date)).toISOString().slice(0, 10)
  return { from: day(-8, 1), until: day(4, 0) }
}
