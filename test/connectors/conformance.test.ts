import fs from 'node:fs'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { LIBRARY_IDS } from '../../src/contract/library-account'
import type { Connector } from '../../src/server/ports/connector'
import { codedConnectors, makeLibraries, type Standins, serveStandins, temporaryDir } from '../world'
import { conformance } from './conformance'

/** `npm run test:connector -- NAME` asks for one; without it all that ship are tried. */
const asked = process.env.THUD_CONNECTOR ?? ''
const ids = asked === '' ? LIBRARY_IDS : LIBRARY_IDS.filter((id) => id === asked)

const dir = temporaryDir('conformance')
let standins: Standins
let connectors: readonly Connector[]
beforeAll(async () => {
  await makeLibraries(dir)
  standins = await serveStandins(dir)
  connectors = codedConnectors(standins)
})
afterAll(async () => {
  await Promise.all(Object.values(standins).map((standin) => standin.close()))
  fs.rmSync(dir, { recursive: true })
})

it('is asked for a connector that exists', () => {
  expect(ids, `there is no connector called “${asked}”; there are ${LIBRARY_IDS.join(', ')}`).not.toEqual([])
})

describe.each(ids)('the connector %s', (id) => {
  conformance({
    connector: () => connectors.find((one) => one.id === id) as Connector,
    soundsMax: 500,
    mayOrder: true,
  })
})
