import { writeWav } from '../../src/core/formats/wav'
import { burst } from './libraries'
import { percentile } from './percentile'
import { Random } from './random'
import type { Campaign } from './run'
import { Scene } from './scene'

const CLIENTS = 50
const P95_MS = 300
const P99_MS = 800
const MAX_MS = 2000
/** A shorter run says nothing of times. */
const JUDGED_FROM_MINUTES = 1
const SETTLE_MS = 300_000

/** Fifty clients read and search while a check runs: how long each answer takes. */
export const load: Campaign = async (options) => {
  const { seed, minutes = 2, say } = options
  const random = new Random(seed)
  const scene = await Scene.open(options, minutes >= JUDGED_FROM_MINUTES ? 60 : 8)
  const { server } = scene
  await server.start()
  await scene.firstSync()
  const uses = { places: ['online'], earns: true, territory: 'worldwide', publishOn: '2030-01-01', videoLicence: null }
  const video = await server.ask<{ id: number }>('POST', '/api/videos', { title: 'A film', uses })
  const videoId = video?.value?.id ?? 0
  const film = track(random, minutes >= JUDGED_FROM_MINUTES ? 240 : 20)
  await server.ask('PUT', `/api/videos/${videoId}/export?name=film.wav`, film)
  say('the check has begun')
  const endMs = performance.now() + minutes * 60_000
  const times = new Map<string, number[]>()
  let failed = 0
  const client = async (own: Random): Promise<void> => {
    while (performance.now() < endMs) {
      const [name, address] = own.pick(ASKED)(own, videoId)
      const startMs = performance.now()
      const answer = await server.ask('GET', address)
      const list = times.get(name) ?? []
      times.set(name, list)
      list.push(performance.now() - startMs)
      if (!answer || answer.status >= 500) failed++
      // A person looks at what came.
      await new Promise((resolve) => setTimeout(resolve, own.whole(200, 1500)))
    }
  }
  await Promise.all(Array.from({ length: CLIENTS }, (_, index) => client(new Random(seed + index))))
  const stuck = await server.settled(SETTLE_MS)
  await server.kill()
  const all = [...times.values()].flat()
  const problems = [
    ...stuck.map((title) => `“${title}” does not end.`),
    ...(failed > 0 ? [`${failed} requests were not answered.`] : []),
    ...(minutes >= JUDGED_FROM_MINUTES ? tooSlow(all) : []),
    ...(await scene.broken()),
  ]
  await scene.close()
  const long = server.said.split('\n').filter((line) => line.startsWith('One turn of the loop'))
  return {
    rows: [
      ['clients', CLIENTS],
      ['requests', all.length],
      ...[...times].map(([name, list]): [string, string] => [name, figures(list)]),
      ['all', figures(all)],
      ['long turns of the loop', long.length],
      ...long.slice(-5).map((line, index): [string, string] => [`  ${index + 1}`, line]),
    ],
    problems,
  }
}

const WORDS = ['sound', 'effects', 'test', 'so', 'sou', 'maker', 'soun t1']

const ASKED: readonly ((random: Random, videoId: number) => readonly [string, string])[] = [
  (random) => ['search', `/api/sounds?q=${encodeURIComponent(random.pick(WORDS))}`],
  (random) => ['search', `/api/sounds?q=${encodeURIComponent(random.pick(WORDS))}&sort=newest`],
  (random) => ['counts', `/api/sounds/counts?q=${encodeURIComponent(random.pick(WORDS))}`],
  (random) => ['a sound', `/api/sounds/${random.whole(1, 240)}`],
  (_, videoId) => ['a video', `/api/videos/${videoId}`],
  () => ['videos', '/api/videos'],
  () => ['desk', '/api/desk'],
  () => ['papers', '/api/papers'],
  () => ['state', '/api/state'],
  () => ['sources', '/api/sources'],
]

/** What took longer than it may, in sentences. */
function tooSlow(all: readonly number[]): string[] {
  const limits = [
    ['p95', percentile(all, 95), P95_MS],
    ['p99', percentile(all, 99), P99_MS],
    ['the slowest', Math.max(...all), MAX_MS],
  ] as const
  return limits.flatMap(([name, ms, most]) =>
    ms > most ? [`Of all answers, ${name} took ${Math.round(ms)} ms; ${most} are allowed.`] : [],
  )
}

function figures(times: readonly number[]): string {
  const ms = (value: number): number => Math.round(value)
  return `p50 ${ms(percentile(times, 50))} · p95 ${ms(percentile(times, 95))} · p99 ${ms(percentile(times, 99))} · max ${ms(Math.max(...times))} ms`
}

/** A long track: noise with bursts. */
function track(random: Random, durationS: number): Uint8Array {
  const out = new Float32Array(durationS * 48000)
  for (let i = 0; i < out.length; i++) out[i] = 0.02 * (random.next() - 0.5)
  for (let at = 0; at + 48000 < out.length; at += 96000) {
    const sound = burst(random)
    for (let i = 0; i < sound.length; i++) out[at + i] = (out[at + i] ?? 0) + (sound[i] ?? 0)
  }
  return writeWav({ sampleRateHz: 48000, channels: [out] })
}
