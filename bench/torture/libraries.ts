import fs from 'node:fs'
import path from 'node:path'
import { previewOf } from '../../demo/synthesis/encode'
import { LIBRARY_IDS, type LibraryId } from '../../src/contract/library-account'
import { writeWav } from '../../src/core/formats/wav'
import { serveHeronSlate } from '../../src/standins/heron-slate'
import { servePellMarrow } from '../../src/standins/pell-marrow'
import type { LibrarySound, Standin } from '../../src/standins/serve'
import { serveSkerryview } from '../../src/standins/skerryview'
import { serveTinBarn } from '../../src/standins/tin-barn'
import { Random } from './random'

const RATE_HZ = 48000

/** Stand-ins that run in this process: what they are told and how many orders they took can be looked at. */
export interface Libraries {
  readonly all: readonly Standin[]
  readonly shop: Awaited<ReturnType<typeof servePellMarrow>>
  readonly urls: Readonly<Record<LibraryId, string>>
  close(): Promise<void>
}

/** Makes small libraries in a folder and serves them. @param soundsEach Sounds of each. */
export async function serveLibraries(dir: string, soundsEach: number, seed: number): Promise<Libraries> {
  const random = new Random(seed)
  for (const id of LIBRARY_IDS) await makeLibrary(path.join(dir, id), id, soundsEach, random)
  const barn = await serveTinBarn({ dir: path.join(dir, 'tin-barn') }, 0)
  const heron = await serveHeronSlate({ dir: path.join(dir, 'heron-slate') }, 0)
  const shop = await servePellMarrow({ dir: path.join(dir, 'pell-marrow') }, 0, path.join(dir, 'orders.json'))
  const skerry = await serveSkerryview({ dir: path.join(dir, 'skerryview') }, 0)
  const all = [barn, heron, shop, skerry]
  return {
    all,
    shop,
    urls: { 'tin-barn': barn.url, 'heron-slate': heron.url, 'pell-marrow': shop.url, skerryview: skerry.url },
    close: async () => {
      await Promise.all(all.map((one) => one.close()))
    },
  }
}

const LICENCES: Readonly<Record<LibraryId, readonly string[]>> = {
  'tin-barn': ['CC0-1.0', 'CC-BY-4.0'],
  'heron-slate': ['plan'],
  'pell-marrow': ['300', '450', '1500'],
  skerryview: ['named', 'open'],
}

async function makeLibrary(folder: string, id: LibraryId, count: number, random: Random): Promise<void> {
  fs.mkdirSync(folder, { recursive: true })
  const rows: LibrarySound[] = []
  for (let index = 0; index < count; index++) {
    const samples = burst(random)
    const name = `${id.slice(0, 1)}${index}`
    fs.writeFileSync(path.join(folder, `${name}.wav`), writeWav({ sampleRateHz: RATE_HZ, channels: [samples] }))
    fs.writeFileSync(path.join(folder, `${name}.preview.ogg`), await previewOf([samples]))
    rows.push({
      id: name,
      title: `Sound ${name}`,
      maker: 'Maker',
      category: 'Effects',
      licence: random.pick(LICENCES[id]),
      format: 'wav',
      tags: 'test',
      durationS: samples.length / RATE_HZ,
    })
  }
  fs.writeFileSync(path.join(folder, 'catalogue.json'), JSON.stringify(rows))
}

/** A short sound of its own: partials at chance, dying away. */
export function burst(random: Random): Float32Array {
  const length = random.whole(0.2 * RATE_HZ, RATE_HZ)
  const partials = Array.from({ length: 6 }, () => [random.whole(200, 6000), 0.1 + random.next() * 0.1] as const)
  return Float32Array.from({ length }, (_, i) =>
    partials.reduce(
      (sum, [hz, level]) => sum + level * Math.sin((2 * Math.PI * hz * i) / RATE_HZ) * Math.exp((-6 * i) / length),
      0,
    ),
  )
}
