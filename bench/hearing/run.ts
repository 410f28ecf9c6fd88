import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { parseArgs } from 'node:util'
import { RATE_HZ } from '../../demo/synthesis/toolkit'
import { indexSounds } from '../../src/cli/feature-cache'
import { type RecordingRelations, soundKind } from '../../src/core/hearing'
import { coveredS } from '../../src/core/time-range'
import { listen } from '../../src/server/analysis/listen'
import { createPool, runTask, secondsByTask } from '../../src/server/workers/pool'
import { type BenchSound, folderMaterial, half, type Material, ownMaterial } from './material'
import { isListed, mixOf, type SetName } from './mixes'
import { type Heard, reliability, report, type Scored, scored } from './score'
import { storedReport } from './stored'
import { unexplainedReport } from './unexplained'
import { WideChance } from './wide-chance'
import { encodersAreThere, writeMix, writeSounds } from './write'

/*
 * Measures the hearing engine on labelled mixes (fixed seeds), the way a check works: files, worker threads and all.
 *
 *   npm run bench:hearing -- [--sounds N] [--minutes M] [--sets a,b] [--half aside|tuning] [--folder DIR] [--stage copies|catalogue]
 *
 * --folder names recordings to use in place of the synthesised material: sub-folders `sounds`, `speech`, `music`.
 */
const SETS: readonly SetName[] = [
  'untouched',
  'edited',
  'treated',
  'sped',
  'absent',
  'unlisted',
  'long',
  'panned',
  'opposed',
  'excerpts',
]
/** What the tasks of a check are, for figures. */
const STAGE_WORDS: Readonly<Record<string, string>> = {
  decodeTrack: 'decoding',
  hearVoices: 'voice model (with waiting for decoding)',
  prepareWindow: 'whitening and transforming the track',
  searchSounds: 'searching (coarse pass, looks, verification)',
  preparePatches: 'patches of the track',
  lookUpSounds: 'looking up',
  confirmProposals: 'hearing what was looked up',
  resolveFinds: 'settling',
  subtractFound: 'taking out what was heard',
  takeOutOpposed: 'taking out of the side what was heard there',
  breakDownTrack: 'breaking down the rest',
  measureSensitivity: 'sensitivity',
}
/** Pieces of music that are listed where parts of them are laid in, and how long they are, s. */
const SONGS = 8
const SONG_S = 150
/** Sounds that are laid into the sets without listed ones. */
const UNLISTED = 60
const [root, ...args] = process.argv.slice(2) as [string, ...string[]]
const { values } = parseArgs({
  args,
  options: {
    sounds: { type: 'string', default: '1000' },
    minutes: { type: 'string', default: '10' },
    sets: { type: 'string', default: SETS.join(',') },
    half: { type: 'string', default: 'aside' },
    folder: { type: 'string' },
    stage: { type: 'string', default: 'copies' },
    workers: { type: 'string', default: String(os.availableParallelism()) },
  },
})
const soundCount = Number(values.sounds)
const durationS = 60 * Number(values.minutes)
const which = values.half === 'tuning' ? 'tuning' : 'aside'
const work = fs.mkdtempSync(path.join(os.tmpdir(), 'thud-bench-'))
const pool = createPool(path.join(root, 'dist', 'node'), Number(values.workers))
try {
  await measured()
} finally {
  await pool.destroy()
  fs.rmSync(work, { recursive: true, force: true })
}

async function measured(): Promise<void> {
  const material: Material = values.folder ? folderMaterial(values.folder) : ownMaterial(soundCount + UNLISTED)
  const unlisted = values.folder ? [] : material.sounds.slice(soundCount)
  const effects = { ...material, sounds: values.folder ? material.sounds : material.sounds.slice(0, soundCount) }
  const sets = (values.sets as string).split(',') as SetName[]
  const songs = sets.includes('excerpts') ? songsOf(material) : []
  const listed = { ...effects, sounds: [...effects.sounds, ...songs] }
  const files = writeSounds(path.join(work, 'sounds'), listed.sounds)
  const indexMs = performance.now()
  const indexed = await indexSounds(
    pool,
    files.map((file, index) => ({ name: listed.sounds[index]?.name as string, path: file })),
    path.join(work, 'features'),
    Number(values.workers),
  )
  const perSoundMs = (performance.now() - indexMs) / files.length
  const paths = indexed.map(({ featurePath }) => featurePath)
  const { groups } = await runTask<RecordingRelations>(pool, 'groupSounds', { paths })
  const everyOne = indexed.map((_, index) => index)
  const shortlist = values.stage === 'copies' ? everyOne : []
  console.log(`${indexed.length} listed sounds, ${perSoundMs.toFixed(1)} ms each to prepare, ${groups.length} groups`)
  const laidInto = (name: SetName): readonly BenchSound[] => {
    if (name === 'excerpts') return songs
    if (isListed(name)) return half(effects, which)
    return unlisted.length > 0 ? unlisted : [silence()]
  }
  const results: Scored[] = []
  for (const [at, name] of sets.entries()) {
    const length = name === 'long' ? 900 : durationS
    const laidIn = laidInto(name)
    const mix = mixOf(name, material, laidIn, { durationS: length, seed: 900 + 7 * at + (which === 'aside' ? 3 : 0) })
    const codec = encodersAreThere() ? (at % 2 === 0 ? 'aac' : 'opus') : 'wav'
    const { file, laid } = writeMix(work, name, mix, codec)
    const before = secondsByTask(pool)
    const reference = { featurePaths: paths, shortlist, groups }
    // What is stored is looked at once: it takes as long in each of the sets.
    const keep = at === 0
    const { track, detections, timing, decoyFinds, decoyCount, breakdown, compact } = await listen(
      pool,
      file,
      reference,
      { keep },
    )
    const heard = detections.map((find): Heard => {
      const names = [find.soundIndex, ...find.alternatives].map((index) => indexed[index]?.name as string)
      return { ...find, names }
    })
    const one = scored(name, laid, heard, track.durationS)
    results.push(one)
    console.log([...report(one), ...unexplainedReport(mix.unlisted, breakdown, track.durationS)].join('\n'))
    console.log(
      `  opposed          ${coveredS(track.opposed).toFixed(1)} s, in part ${coveredS(track.partlyOpposed).toFixed(1)} s that nothing heard in the side explains; ${heard.filter(({ inSide }) => inSide).length} finds in the side`,
    )
    console.log(
      `  time             decode ${timing.decodeS.toFixed(1)} s, search ${timing.searchS.toFixed(1)} s: ${(track.durationS / (timing.decodeS + timing.searchS)).toFixed(1)} x real time (${codec}, ${values.workers} workers); decoys ${decoyFinds} of ${decoyCount}`,
    )
    console.log(`  threads          ${stageTimes(before, secondsByTask(pool))}`)
    if (compact) console.log((await storedReport(pool, compact, paths, paths.length)).join('\n'))
  }
  const kinds = new Map(listed.sounds.map((sound) => [sound.name, soundKind(sound.left, RATE_HZ)]))
  console.log(reliability(results, kinds).join('\n'))
  console.log(
    `\nmost memory held: ${(process.resourceUsage().maxRSS / 1024).toFixed(0)} MB (with the material of the mixes)`,
  )
}

/** What the threads were at meanwhile, the longest first. */
function stageTimes(before: ReadonlyMap<string, number>, after: ReadonlyMap<string, number>): string {
  return [...after]
    .map(([name, spentS]) => ({ name, spentS: spentS - (before.get(name) ?? 0) }))
    .filter(({ spentS }) => spentS >= 0.05)
    .sort((a, b) => b.spentS - a.spentS)
    .map(({ name, spentS }) => `${STAGE_WORDS[name] ?? name} ${spentS.toFixed(1)} s`)
    .join(', ')
}

/** Music that is no bed of the other mixes. */
function songsOf(material: Material): BenchSound[] {
  return Array.from({ length: SONGS }, (_, index) => {
    const [left, right] = material.music(SONG_S, new WideChance(5000 + index))
    return { name: `song-${index}`, left, right }
  })
}

function silence() {
  const samples = new Float32Array(48000)
  return { name: 'silence', left: samples, right: samples }
}
