import fs from 'node:fs'
import path from 'node:path'
import { launch, ROOT } from './launch'
import { DEMO_DATA } from './worlds'

const SETUP_PORT = 4889
const BUILT = path.join(ROOT, 'dist', '.built')

/** Makes the data of the demo, which every world is a copy of, unless this very build made them before. */
export default async function setup(): Promise<void> {
  const stamp = path.join(DEMO_DATA, 'made-by')
  if (fs.existsSync(BUILT) && fs.existsSync(stamp) && fs.readFileSync(stamp).equals(fs.readFileSync(BUILT))) return
  for (const dir of [DEMO_DATA, `${DEMO_DATA}-folders`]) fs.rmSync(dir, { recursive: true, force: true })
  const demo = await launch({ port: SETUP_PORT, data: DEMO_DATA, demo: true })
  await demo.interrupt()
  fs.copyFileSync(BUILT, stamp)
}
