import { createHash } from 'node:crypto'
import { writeWav } from '../../src/core/formats/wav'
import { newMoment } from '../../src/core/moments'
import { burst } from './libraries'
import type { Random } from './random'
import type { Server } from './server'

/** What was answered with success, and has to be there ever after. */
export interface Acknowledged {
  readonly evidence: Set<string>
  readonly exports: Set<number>
  readonly videos: Set<number>
  /** Orders by sound, tier and video. */
  readonly paid: Set<string>
  readonly cuts: Set<number>
  /** Moments by video and id. */
  readonly moments: Set<string>
}

export function nothingYet(): Acknowledged {
  return {
    evidence: new Set(),
    exports: new Set(),
    videos: new Set(),
    paid: new Set(),
    cuts: new Set(),
    moments: new Set(),
  }
}

const USES = { places: ['online'], earns: true, territory: 'worldwide', publishOn: '2030-01-01', videoLicence: null }
const LIBRARIES = ['tin-barn', 'heron-slate', 'pell-marrow', 'skerryview']

/** One thing that a creator might do, chosen at random; what the server acknowledges is noted. */
export async function doSomething(server: Server, random: Random, done: Acknowledged): Promise<void> {
  const { sounds } = (await server.ask<{ sounds: { id: number; sold: boolean }[] }>('GET', '/api/sounds?limit=60'))
    ?.value ?? { sounds: [] }
  const sound = sounds.length > 0 ? random.pick(sounds) : null
  switch (random.whole(0, 11)) {
    case 0:
      await server.ask('POST', `/api/sources/${random.pick(LIBRARIES)}/sync`)
      return
    case 1:
    case 2:
      if (sound) await server.ask('POST', `/api/sounds/${sound.id}/download`, { format: null })
      return
    case 3:
      await buy(server, random, done)
      return
    case 4:
      await makeVideo(server, done)
      return
    case 5:
      await bringExport(server, random, done)
      return
    case 6:
      await attachEvidence(server, random, done)
      return
    case 8:
      await bringCut(server, random, done)
      return
    case 9:
      await noteMoment(server, random, done)
      return
    case 7:
      await server.ask('PUT', `/api/elsewhere?name=own-${random.whole(0, 1e6)}.wav`, wav(random))
      return
    default:
      await server.ask('POST', random.pick(['/api/doctor', '/api/ledger/verify', '/api/room']))
  }
}

function wav(random: Random): Uint8Array {
  return writeWav({ sampleRateHz: 48000, channels: [burst(random)] })
}

async function buy(server: Server, random: Random, done: Acknowledged): Promise<void> {
  const found = await server.ask<{ sounds: { id: number; sold: boolean }[] }>('GET', '/api/sounds?limit=200')
  const sounds = (found?.value?.sounds ?? []).filter(({ sold }) => sold)
  if (sounds.length === 0) return
  const soundId = random.pick(sounds).id
  const tier = random.pick(['web', 'promo', 'all'])
  const videoId = random.pick([null, ...done.videos])
  const basket = await server.ask<{
    lines: {
      id: number
      soundId: number
      tier: string
      videoId: number | null
      priceMinor: number
      currency: string
      isOffered: boolean
    }[]
  }>('POST', '/api/basket', { soundId, tier, videoId })
  const offered = (basket?.value?.lines ?? []).filter(({ isOffered }) => isOffered)
  const lines = offered.map(({ id, priceMinor, currency }) => ({ id, priceMinor, currency }))
  if (lines.length === 0) return
  const paid = await server.ask<{ orderCount: number }>('POST', '/api/basket/pay', { lines })
  // Asked twice while it is under way, it is one order.
  if (paid?.value) for (const line of offered) done.paid.add(`${line.soundId} ${line.tier} ${line.videoId}`)
  // What was bought already stays in the basket otherwise.
  else for (const { id } of lines) await server.ask('DELETE', `/api/basket/${id}`)
}

async function makeVideo(server: Server, done: Acknowledged): Promise<void> {
  const made = await server.ask<{ id: number }>('POST', '/api/videos', { title: 'A film', uses: USES })
  if (made?.value) done.videos.add(made.value.id)
}

async function bringExport(server: Server, random: Random, done: Acknowledged): Promise<void> {
  const [videoId] = [...done.videos].slice(-1)
  if (videoId === undefined) return
  const name = `film-${random.whole(0, 1e6)}.wav`
  const brought = await server.ask<{ exportId: number }>(
    'PUT',
    `/api/videos/${videoId}/export?name=${name}`,
    wav(random),
  )
  if (brought?.value) done.exports.add(brought.value.exportId)
}

async function bringCut(server: Server, random: Random, done: Acknowledged): Promise<void> {
  const [videoId] = [...done.videos].slice(-1)
  if (videoId === undefined) return
  const name = `cut-${random.whole(0, 1e6)}.wav`
  const brought = await server.ask<{ cutId: number }>('PUT', `/api/videos/${videoId}/cut?name=${name}`, wav(random))
  if (brought?.value) done.cuts.add(brought.value.cutId)
}

async function noteMoment(server: Server, random: Random, done: Acknowledged): Promise<void> {
  if (done.videos.size === 0) return
  const videoId = random.pick([...done.videos])
  const now = await server.ask<{ revision: number }>('GET', `/api/videos/${videoId}/moments`)
  if (!now?.value) return
  const id = `m-${random.whole(0, 1e9)}`
  const moment = newMoment(id, random.whole(0, 100), { words: 'something slams' })
  const edits = [{ do: 'add', moments: [moment] }]
  const noted = await server.ask<{ outcome: string }>('POST', `/api/videos/${videoId}/moments`, {
    revision: now.value.revision,
    edits,
  })
  if (noted?.value?.outcome === 'saved') done.moments.add(`${videoId} ${id}`)
}

async function attachEvidence(server: Server, random: Random, done: Acknowledged): Promise<void> {
  const papers = await server.ask<{ rows: { grantId: number | null }[] }>('GET', '/api/papers')
  const grants = papers?.value?.rows?.flatMap(({ grantId }) => (grantId === null ? [] : [grantId])) ?? []
  if (grants.length === 0) return
  const bytes = Buffer.from(`%PDF-1.4 receipt ${random.next()} ${'x'.repeat(random.whole(10, 200_000))}`)
  const name = `receipt-${random.whole(0, 1e6)}.pdf`
  const attached = await server.ask(
    'PUT',
    `/api/papers/${random.pick(grants)}/evidence?name=${name}`,
    new Uint8Array(bytes),
  )
  if (attached?.status === 200) done.evidence.add(createHash('sha256').update(bytes).digest('hex'))
}
