import { spawnSync } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { inflateRawSync } from 'node:zlib'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import {
  LengthAnswer,
  LoudnessAnswer,
  PlannedHeard,
  ScoreChanged,
  ScoreImported,
  VideoScore,
  VideoUsed,
} from '../src/contract'
import { readWav } from '../src/core/formats/wav'
import { assemblyLengthS, newLayer, newPlacement, type Placement, type ScoreEdit } from '../src/core/score'
import * as lengthRoute from '../src/pages/api/score/length'
import * as loudnessRoute from '../src/pages/api/score/loudness'
import * as plannedRoute from '../src/pages/api/videos/[id]/planned-heard'
import * as scoreRoute from '../src/pages/api/videos/[id]/score'
import * as importRoute from '../src/pages/api/videos/[id]/score-import'
import * as listRoute from '../src/pages/api/videos/[id]/score-list'
import * as packageRoute from '../src/pages/api/videos/[id]/score-package'
import * as usedRoute from '../src/pages/api/videos/[id]/used-sounds'
import { call, serveApp, value } from './call'
import {
  bringExport,
  download,
  finishedTrack,
  makeVideo,
  mirrorAll,
  NODE_DIR,
  openWorld,
  soundId,
  usesOf,
  type World,
} from './world'

let world: World
beforeAll(async () => {
  world = await openWorld('out-and-back')
  serveApp(world.app)
  await mirrorAll(world, ['tin-barn'])
  await download(world.app, 'Dull thud')
  await download(world.app, 'Ice crack')
})
afterAll(() => world.close())

const params = (videoId: number) => ({ params: { id: String(videoId) } })
const used = (videoId: number) => value(VideoUsed, usedRoute, 'GET', params(videoId))
const text = async (videoId: number, as: string): Promise<string> => {
  const answer = await call(listRoute, 'GET', { ...params(videoId), query: `?as=${as}` })
  expect(answer.status).toBe(200)
  return answer.text()
}

async function copyOf(title: string): Promise<Placement['audio']> {
  const id = await soundId(world.app, title)
  const row = await world.app.db
    .selectFrom('active_grants')
    .select('copy_sha256')
    .where('sound_id', '=', id)
    .executeTakeFirstOrThrow()
  return { kind: 'copy', sha256: row.copy_sha256 as string, soundId: id }
}

const previewOf = async (title: string): Promise<Placement['audio']> => ({
  kind: 'preview',
  soundId: await soundId(world.app, title),
})

/** A video in which some sounds are placed, one a second from 1 s on. */
async function videoWith(audios: readonly Placement['audio'][], uses = usesOf()): Promise<number> {
  const videoId = await makeVideo(world.app, 'A night film', uses)
  const placements = audios.map((audio, at) =>
    newPlacement(`p${at}`, { layerId: 'one', audio, startS: 1 + at, toS: 0.4 }, { gainDb: -3 - at }),
  )
  const edits: ScoreEdit[] = [
    { do: 'add-layer', layer: newLayer('one', 'Effects', 'effects'), atIndex: 0 },
    { do: 'add', placements },
  ]
  await value(ScoreChanged, scoreRoute, 'POST', { ...params(videoId), body: { revision: 0, edits } })
  return videoId
}

describe('what is used', () => {
  it('is weighed for its own video, whatever it is and whatever is in hand', async () => {
    const audios = [await copyOf('Dull thud'), await previewOf('Radio hum')]
    const [free, earning] = [await videoWith(audios), await videoWith(audios, usesOf({ earns: true }))]
    const fits = async (videoId: number) => (await used(videoId)).sounds.map(({ title, fit }) => [title, fit])
    expect(await fits(free)).toEqual([
      ['Dull thud', 'fits'],
      ['Radio hum', 'fits-with-credit'],
    ])
    expect(await fits(earning)).toEqual([
      ['Dull thud', 'fits'],
      ['Radio hum', 'does-not-fit'],
    ])
  })

  it('says what is open: only papers on file for the very file that is placed are ground', async () => {
    const [thud, ice] = [await copyOf('Dull thud'), await copyOf('Ice crack')]
    const stranger: Placement['audio'] = { kind: 'copy', sha256: 'f'.repeat(64), soundId: thud.soundId }
    const { sounds } = await used(await videoWith([thud, ice, await previewOf('Radio hum'), stranger]))
    expect(sounds.map(({ open }) => open)).toEqual([
      null,
      null,
      'Radio hum has no papers yet for the file that is placed.',
      'Dull thud has no papers yet for the file that is placed.',
    ])
    expect(sounds.map(({ how }) => how)).toEqual(['here', 'here', 'free', 'here'])
    expect(sounds[1]?.creditLine).toContain('Ice crack')
    expect(sounds[3]?.fit).toBeNull()
  })

  it('keeps a sound that is not there any more, and calls it open', async () => {
    const { sounds } = await used(await videoWith([{ kind: 'preview', soundId: 999_999 }]))
    expect(sounds).toMatchObject([{ fit: null, how: 'not', kind: null }])
    expect(sounds[0]?.open).toContain('nothing is known of it')
  })
})

/** Files of an archive by their names. */
function unpacked(bytes: Buffer): Map<string, Buffer> {
  const files = new Map<string, Buffer>()
  let at = bytes.lastIndexOf(Buffer.from('PK\u0005\u0006'))
  const count = bytes.readUInt16LE(at + 10)
  at = bytes.readUInt32LE(at + 16)
  for (let index = 0; index < count; index++) {
    const method = bytes.readUInt16LE(at + 10)
    const size = bytes.readUInt32LE(at + 20)
    const nameLength = bytes.readUInt16LE(at + 28)
    const local = bytes.readUInt32LE(at + 42)
    const name = bytes.toString('utf8', at + 46, at + 46 + nameLength)
    const from = local + 30 + bytes.readUInt16LE(local + 26) + bytes.readUInt16LE(local + 28)
    const stored = bytes.subarray(from, from + size)
    files.set(name, method === 8 ? inflateRawSync(stored) : stored)
    at += 46 + nameLength + bytes.readUInt16LE(at + 30) + bytes.readUInt16LE(at + 32)
  }
  return files
}

describe('out', () => {
  it('a cue sheet tells of every placement what it is and what is open, and is no formula anywhere', async () => {
    const videoId = await videoWith([await copyOf('Ice crack'), await previewOf('Radio hum')])
    const rows = (await text(videoId, 'csv')).trim().split('\r\n')
    expect(rows).toHaveLength(3)
    expect(rows[1]).toContain('Ice crack')
    expect(rows[2]).toContain('Radio hum has no papers yet')
    // A level below zero begins with a sign that a table program would compute with.
    expect(rows[1]).not.toMatch(/(?:^|,)-/)
  })

  it('an archive holds the copies and lists, and never a preview; what lacks is said in it', async () => {
    const videoId = await videoWith([
      await copyOf('Ice crack'),
      await copyOf('Dull thud'),
      await previewOf('Radio hum'),
    ])
    const answer = await call(packageRoute, 'GET', params(videoId))
    expect(answer.headers.get('content-disposition')).toContain('A%20night%20film')
    const files = unpacked(Buffer.from(await answer.arrayBuffer()))
    const sounds = [...files.keys()].filter((name) => name.startsWith('sounds/'))
    expect(sounds).toHaveLength(2)
    const papers = [...files.keys()].filter((name) => name.startsWith('papers/'))
    expect([...files.keys()].sort()).toEqual(
      [
        ...sounds,
        ...papers,
        'A night film.edl',
        'A night film.otio',
        'credits.txt',
        'cue sheet.csv',
        'what is open.txt',
      ].sort(),
    )
    const open = files.get('what is open.txt')?.toString() ?? ''
    expect(open).toContain('Radio hum has no papers yet')
    expect(open).toContain('Radio hum is not among the files')
    expect(open).not.toContain('Dull thud')
    expect(files.get('credits.txt')?.toString()).toContain('Ice crack')
    // The papers go with them: a table of all three, and the terms that the two copies are under, as they were.
    const table = files.get('papers/papers.csv')?.toString().trim().split('\r\n') ?? []
    expect(table).toHaveLength(4)
    expect(table.find((row) => row.startsWith('Radio hum'))).toContain('no papers')
    const termsOf = async (title: string) =>
      world.app.db
        .selectFrom('active_grants')
        .innerJoin('terms', 'terms.id', 'active_grants.terms_id')
        .select('terms.text')
        .where('sound_id', '=', await soundId(world.app, title))
        .executeTakeFirstOrThrow()
    const texts = papers.filter((name) => name.startsWith('papers/terms/')).map((name) => files.get(name)?.toString())
    for (const title of ['Ice crack', 'Dull thud']) {
      const { text: wanted } = await termsOf(title)
      expect(texts.some((one) => one?.endsWith(wanted))).toBe(true)
    }
  })

  it('a stored file that is no copy does not go out, whatever a placement calls it', async () => {
    const id = await soundId(world.app, 'Radio hum')
    const { audio_sha256: preview } = await world.app.db
      .selectFrom('analyses')
      .select('audio_sha256')
      .where('sound_id', '=', id)
      .executeTakeFirstOrThrow()
    expect(world.app.store.has(preview as string)).toBe(true)
    const audio: Placement['audio'] = { kind: 'copy', sha256: preview as string, soundId: id }
    const answer = await call(packageRoute, 'GET', params(await videoWith([audio])))
    const files = unpacked(Buffer.from(await answer.arrayBuffer()))
    expect([...files.keys()].filter((name) => name.startsWith('sounds/'))).toEqual([])
    expect(files.get('what is open.txt')?.toString()).toContain('Radio hum has no papers yet')
  })

  it('of nothing there is none', async () => {
    expect((await call(packageRoute, 'GET', params(await makeVideo(world.app)))).status).toBe(409)
  })
})

describe('back', () => {
  const read = (videoId: number, list: string) =>
    value(ScoreImported, importRoute, 'POST', { ...params(videoId), body: { text: list } })

  it.each(['otio', 'edl'])('%s comes back as it went out, to the frame', async (format) => {
    const from = await videoWith([await copyOf('Ice crack'), await copyOf('Dull thud')])
    const { placements, layers, unmatched } = await read(await makeVideo(world.app), await text(from, format))
    expect(unmatched).toEqual([])
    expect(layers).toHaveLength(1)
    expect(placements.map(({ audio }) => audio)).toEqual([await copyOf('Ice crack'), await copyOf('Dull thud')])
    for (const [at, { startS, gainDb, fadeIn, fadeOut }] of placements.entries()) {
      // These had no fades when they went out.
      if (format === 'otio') expect([fadeIn, fadeOut]).toEqual([null, null])
      expect(startS).toBeCloseTo(1 + at, 1)
      expect(gainDb).toBe(-3 - at)
    }
  })

  it('what is placed already is not placed twice', async () => {
    const videoId = await videoWith([await copyOf('Ice crack')])
    const again = await read(videoId, await text(videoId, 'otio'))
    expect(again.placements).toEqual([])
    expect(again.leftOut).toEqual(['One sound, which is placed already.'])
  })

  it('a clip of another program is matched by the name of its file alone; what is not known here is listed', async () => {
    const clip = (target: string, startS: number) => ({
      OTIO_SCHEMA: 'Clip.2',
      name: 'whatever',
      source_range: {
        start_time: { OTIO_SCHEMA: 'RationalTime.1', rate: 24, value: 2.4 },
        duration: { OTIO_SCHEMA: 'RationalTime.1', rate: 24, value: 6 },
      },
      media_references: { DEFAULT_MEDIA: { OTIO_SCHEMA: 'ExternalReference.1', target_url: target } },
      metadata: { good_thud: { id: '../..', audio: { kind: 'copy', sha256: 'nonsense' } } },
      startS,
    })
    const list = JSON.stringify({
      OTIO_SCHEMA: 'Timeline.1',
      tracks: {
        OTIO_SCHEMA: 'Stack.1',
        children: [
          {
            OTIO_SCHEMA: 'Track.1',
            kind: 'Audio',
            name: 'SFX',
            children: [clip('file:///somewhere/else/Dull%20thud.wav', 0), clip('/etc/passwd', 0.25)],
          },
        ],
      },
    })
    const result = await read(await makeVideo(world.app), list)
    expect(result.layers.map(({ name }) => name)).toEqual(['SFX'])
    expect(result.placements).toMatchObject([
      { startS: 0, fromS: expect.closeTo(0.1, 6), toS: expect.closeTo(0.35, 6) },
    ])
    // The cut falls into the thud: neither end is left as if cut with a knife.
    const safe = { lengthS: 0.01, isAutomatic: true }
    expect(result.placements[0]).toMatchObject({ fadeIn: safe, fadeOut: safe })
    expect(Object.values(result.matched)).toEqual(['name'])
    expect(result.unmatched).toEqual([{ name: 'passwd', startS: 0.25 }])
    expect(result.leftOut).toEqual([])
  })

  it.each(['', 'TITLE: none', '{"a":1}', '[1,2', '\u0000\u0001'])('%j is no list, and that is said', async (list) => {
    const answer = await call(importRoute, 'POST', {
      ...params(await makeVideo(world.app)),
      body: { text: list },
    })
    expect(answer.status).toBe(422)
    expect(await answer.text()).toContain('.otio')
  })
})

describe('planned and heard', () => {
  it('are held against each other, and what was changed since is said', { tags: 'long' }, async () => {
    const videoId = await videoWith([await copyOf('Ice crack'), await copyOf('Dull thud')])
    const before = await value(PlannedHeard, plannedRoute, 'GET', params(videoId))
    expect(before).toMatchObject({ checkId: null, both: [], plannedOnly: [] })
    const track = finishedTrack(14, [
      ['b1', 1, -6],
      ['b4', 8, -6],
    ])
    const { checkId } = await bringExport(world.app, videoId, track)
    const after = await value(PlannedHeard, plannedRoute, 'GET', params(videoId))
    expect(after).toMatchObject({ checkId, isSamePlan: true })
    expect(after.both.map(({ title }) => title)).toEqual(['Ice crack'])
    expect(Math.abs(after.both[0]?.laterS ?? 1)).toBeLessThan(0.02)
    expect(after.plannedOnly.map(({ title }) => title)).toEqual(['Dull thud'])
    expect(after.heardOnly.map(({ title, isCopy }) => [title, isCopy])).toEqual([['Bronze bell', false]])
    const { revision } = await value(VideoScore, scoreRoute, 'GET', params(videoId))
    const edits: ScoreEdit[] = [{ do: 'remove', ids: ['p1'] }]
    await value(ScoreChanged, scoreRoute, 'POST', { ...params(videoId), body: { revision, edits } })
    const changed = await value(PlannedHeard, plannedRoute, 'GET', params(videoId))
    expect(changed).toMatchObject({ isSamePlan: false, plannedOnly: [] })
  })
})

describe('the command line', () => {
  /** Runs the built program as a shell would, beside the application. */
  function thud(...args: string[]) {
    const program = path.join(NODE_DIR, 'thud.mjs')
    const script = `const { main } = await import(${JSON.stringify(program)}); process.exitCode = await main(${JSON.stringify([...args, '--data', world.dir])})`
    return spawnSync(process.execPath, ['--input-type=module', '-e', script], { encoding: 'utf8' })
  }

  it('writes the mix of a video with its stems, and says what it is without', { tags: 'long' }, async () => {
    const videoId = await videoWith([await copyOf('Ice crack'), { kind: 'preview', soundId: 999_999 }])
    const out = path.join(world.dir, 'mixes')
    const { status, stdout, stderr } = thud('mix', String(videoId), '--out', out, '--stems')
    expect(stderr).toContain('not here')
    expect(status).toBe(3)
    expect(fs.readdirSync(out).sort()).toEqual(['A night film, Effects.wav', 'A night film, mix.wav'])
    expect(stdout).toContain('LUFS')
    const { channels, sampleRateHz } = readWav(fs.readFileSync(path.join(out, 'A night film, mix.wav')))
    const samples = channels[0] as Float32Array
    const first = samples.findIndex((value) => Math.abs(value) > 0.01) / sampleRateHz
    expect(first).toBeGreaterThan(0.99)
    expect(first).toBeLessThan(1.1)
  })

  it('takes a list from one video to another, and names what it cannot place', { tags: 'long' }, async () => {
    const from = await videoWith([await copyOf('Ice crack'), await copyOf('Dull thud')])
    const file = path.join(world.dir, 'list.edl')
    expect(thud('score', 'export', String(from), '--format', 'edl', '--out', file).status).toBe(0)
    const list = fs.readFileSync(file, 'utf8')
    fs.writeFileSync(file, list.replace(/FROM CLIP NAME: .*Dull.*/, 'FROM CLIP NAME: nobody knows.wav'))
    const to = await makeVideo(world.app, 'Another')
    const { status, stdout, stderr } = thud('score', 'import', String(to), file)
    expect(stderr).toContain('nobody knows.wav at 2.00 s')
    expect([status, stdout.trim()]).toEqual([3, 'Another: 1 placed.'])
    const { document } = await value(VideoScore, scoreRoute, 'GET', params(to))
    expect(document.placements).toMatchObject([{ startS: 1, audio: await copyOf('Ice crack') }])
  })

  it('says in one line what it cannot do', { tags: 'long' }, async () => {
    expect(thud('mix', 'no such video', '--out', world.dir)).toMatchObject({ status: 1 })
    const empty = thud('mix', String(await makeVideo(world.app, 'Empty')), '--out', path.join(world.dir, 'x'))
    expect([empty.status, empty.stderr.trim()]).toEqual([1, 'Nothing is placed in Empty.'])
    expect(thud('score', 'export').status).toBe(2)
  })
})

describe('another length', () => {
  const ask = async (wantedS: number, audio?: Placement['audio']) =>
    call(lengthRoute, 'POST', {
      body: { audio: audio ?? (await copyOf('Dull thud')), fromS: 0, toS: 0.5, wantedS },
    })

  it('comes as parts of the sound, exactly so long, with how well they are joined', async () => {
    const { fitted, barS } = LengthAnswer.parse(await (await ask(0.3)).json())
    expect(barS).toBeNull()
    expect(assemblyLengthS(fitted?.pieces ?? [])).toBeCloseTo(0.3, 2)
    expect(fitted?.seams).toBe(1)
  })

  it('of many times itself is none for what has no room to go on', async () => {
    expect(LengthAnswer.parse(await (await ask(30)).json()).fitted).toBeNull()
  })

  it.each([0, -1, 1e9])('of %s s is refused', async (wantedS) => {
    expect((await ask(wantedS)).status).toBe(400)
  })

  it('of what is not here is refused with its name', async () => {
    const answer = await ask(3, {
      kind: 'copy',
      sha256: 'e'.repeat(64),
      soundId: await soundId(world.app, 'Radio hum'),
    })
    expect(answer.status).toBe(404)
    expect(await answer.text()).toContain('Radio hum')
  })
})

describe('the loudness of a placed sound', () => {
  const ask = async (values: Partial<Placement>) => {
    const placement = newPlacement('p', { layerId: 'l', audio: await copyOf('Dull thud'), startS: 9, toS: 0.4 }, values)
    return call(loudnessRoute, 'POST', { body: { placement } })
  }

  it('is measured as it is heard, whatever its level; what is not here is named', async () => {
    const [plain, soft] = [await ask({}), await ask({ gainDb: -20 })]
    const { lufs } = LoudnessAnswer.parse(await plain.json())
    expect(lufs).toBeLessThan(0)
    expect(LoudnessAnswer.parse(await soft.json()).lufs).toBe(lufs)
    const muffled = await ask({ treatments: [{ kind: 'small-speaker', amountFraction: 1 }] })
    expect(LoudnessAnswer.parse(await muffled.json()).lufs).toBeLessThan(lufs as number)
    const gone = await ask({ audio: { kind: 'copy', sha256: 'e'.repeat(64), soundId: null } })
    expect(gone.status).toBe(404)
    expect((await ask({ toS: Number.NaN })).status).toBe(400)
  })
})
