// The demo's data as they are after its first start, made once for each build. The browser tests run on copies of them.
import { spawn } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { root } from './ready.mjs'

/** Where the data lie. They are copied for use and not changed. */
export const DEMO_DATA = path.join(root, 'test-results', 'demo-data')
const BUILT = path.join(root, 'dist', '.built')
const STAMP = path.join(DEMO_DATA, 'made-by')
const PORT = 4889
const COMPLETE = 'The demo is complete'

/** Makes them, unless this very build made them before. Rejects with what the demo said when it does not start. */
export async function makeDemoData() {
  if (fs.existsSync(BUILT) && fs.existsSync(STAMP) && fs.readFileSync(STAMP).equals(fs.readFileSync(BUILT))) return
  for (const dir of [DEMO_DATA, `${DEMO_DATA}-folders`]) fs.rmSync(dir, { recursive: true, force: true })
  const args = [path.join(root, 'scripts', 'run.mjs'), '--demo', '--port', String(PORT), '--data', DEMO_DATA]
  const demo = spawn(process.execPath, args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'] })
  const stop = () => demo.kill('SIGINT')
  process.on('exit', stop)
  let output = ''
  await new Promise((resolve, reject) => {
    const read = (chunk) => {
      output += chunk
      if (output.includes(COMPLETE) || output.includes('The demo is not complete')) stop()
    }
    demo.stdout.on('data', read)
    demo.stderr.on('data', read)
    demo.once('exit', () =>
      output.includes(COMPLETE) ? resolve() : reject(new Error(`The demo's data could not be made:\n${output}`)),
    )
  })
  process.off('exit', stop)
  fs.copyFileSync(BUILT, STAMP)
}
