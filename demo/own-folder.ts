import fs from 'node:fs'
import path from 'node:path'
import { writeWav } from '../src/core/formats/wav'
import { withWavRights } from '../src/core/formats/wav-tags'
import type { Recipe } from './synthesis/recipes'
import * as make from './synthesis/recipes'
import { Chance, finished, RATE_HZ } from './synthesis/toolkit'

type FileRow = readonly [string, Recipe, ...number[]]

const FILES: readonly FileRow[] = [
  ['Wind/WINDGust_Gust at the fence_SMHR_RIDGE.wav', make.wind, 6, 0.3, 410],
  ['Wind/WINDInt_Draught in the stair_SMHR_RIDGE.wav', make.wind, 5, 0.1, 240],
  ['Doors/DOORMetl_Hatch bolt_SMHR_DOME.wav', make.shutter, 0.9, 3, 190],
  ['Doors/DOORWood_Kitchen door_SMHR_DOME.wav', make.thud, 150, 0.4, 0.7],
  ['Steps/boots on the iron stair.wav', make.steps, 5, 0.44, 0.3],
  ['Borrowed/frozen reeds.wav', make.iceCrack, 1.1, 7, 3900],
  ['Borrowed/far bell buoy.wav', make.shimmer, 2.2, 1180, 6],
]

const README = `Reeds and buoy

Both recordings by Ivo Tarn, who put them under Creative Commons Attribution 4.0:
https://creativecommons.org/licenses/by/4.0/
`

/**
 * Makes a folder of recordings of the channel's own: names after the open category convention, tags, and a README beside what was
 * borrowed. Does nothing where a file is there already.
 *
 * @returns A file beside the folder of which nobody knows where it is from.
 */
export function makeOwnFolder(folder: string): string {
  FILES.forEach(([file, recipe, ...numbers], index) => {
    const wav = soundFile(9100 + index, recipe, numbers)
    const title = path.basename(file, '.wav').split('_')[1] ?? ''
    writeOnce(path.join(folder, file), title ? withWavRights(wav, ownRights(title)) : wav)
  })
  writeOnce(path.join(folder, 'Borrowed', 'README.txt'), Buffer.from(README))
  const grabbed = path.join(path.dirname(folder), 'owl grabbed somewhere.wav')
  writeOnce(grabbed, soundFile(9200, make.owl, [455, 3, 0.5]))
  return grabbed
}

function ownRights(title: string): Parameters<typeof withWavRights>[1] {
  return {
    title,
    maker: 'Small Hours',
    source: 'Hill recordings',
    copyright: 'Small Hours, own recording',
    comment: 'Recorded on the hill.',
    licenceUrl: null,
    creditLine: null,
    acquisitionId: '',
    acquiredOn: '2026-02-11',
  }
}

function soundFile(seed: number, recipe: Recipe, numbers: readonly number[]): Uint8Array {
  return writeWav({ sampleRateHz: RATE_HZ, channels: finished(recipe(new Chance(seed), ...numbers)) }, { bits: 24 })
}

function writeOnce(file: string, bytes: Uint8Array): void {
  if (fs.existsSync(file)) return
  fs.mkdirSync(path.dirname(file), { recursive: true })
  fs.writeFileSync(file, bytes)
}
