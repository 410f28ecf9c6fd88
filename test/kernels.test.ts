import fs from 'node:fs'
import path from 'node:path'
import { expect, it } from 'vitest'
import { KERNELS, kernelModule } from '../scripts/build-kernel.mjs'

it.each(Object.entries(KERNELS))('the bytes of the %s kernel are compiled from its source', async (_name, kernel) => {
  const stands = fs.readFileSync(path.resolve('src/core', kernel.out), 'utf8')
  expect(stands).toBe(await kernelModule(kernel))
})
