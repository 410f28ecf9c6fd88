import fs from 'node:fs'
import { DEMO_DATA, DEMO_PORT, launch } from './launch'

/** Starts the demo on a folder of its own, once for all flows. */
export default async function setup(): Promise<() => Promise<void>> {
  for (const dir of [DEMO_DATA, `${DEMO_DATA}-folders`]) fs.rmSync(dir, { recursive: true, force: true })
  const demo = await launch({ port: DEMO_PORT, data: DEMO_DATA, demo: true })
  return async () => {
    await demo.interrupt()
  }
}
