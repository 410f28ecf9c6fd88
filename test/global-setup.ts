import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { build } from '../scripts/ready.mjs'

/** Workers, command line and seed are bundled before the tests that start them in threads and processes; folders that tests made are removed after them. */
export default async function setup(): Promise<() => void> {
  process.env.THUD_LOG = 'quiet'
  await build({ appToo: false })
  const dir = fs.mkdtempSync(path.join(os.tmpdir(), 'thud-tests-'))
  // Every temporary folder lies in it, those of programs that tests start too.
  process.env.TMPDIR = dir
  return () => fs.rmSync(dir, { recursive: true, force: true })
}
