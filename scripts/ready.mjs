// Makes a fresh clone ready to run: the Node.js version, the packages, the build. Each is done only when it is needed.
import { spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import fs from 'node:fs'
import path from 'node:path'
import { fileURLToPath } from 'node:url'

export const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..')
const NODE_MINIMUM = [20, 19]
const SOURCES = [
  'src',
  'demo',
  'public',
  'vocabulary',
  'scripts/build.mjs',
  'astro.config.mjs',
  'package-lock.json',
  'patches',
  'tsconfig.json',
]

/** Ends with one clear line. */
export function fail(message, status = 1) {
  console.error(message)
  process.exit(status)
}

export function checkNode(version = process.versions.node) {
  const [major, minor] = version.split('.').map(Number)
  const [wantedMajor, wantedMinor] = NODE_MINIMUM
  if (major > wantedMajor || (major === wantedMajor && minor >= wantedMinor)) return null
  return `Good Thud needs Node.js ${NODE_MINIMUM.join('.')} or newer; this is ${version}. Install a newer one and start again.`
}

export function installPackages(say = console.log) {
  const stamp = path.join(root, 'node_modules', '.good-thud-installed')
  // What was chosen for one Node.js may not load in another.
  const wanted = `${hashOf(['package-lock.json', 'patches'])} ${process.versions.modules}`
  if (readStamp(stamp) === wanted) return
  say('Installing packages (the first time, or since they have changed) …')
  const npm = process.platform === 'win32' ? 'npm.cmd' : 'npm'
  const result = spawnSync(npm, ['ci', '--include=dev', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: root,
    stdio: ['ignore', 2, 2],
    env: { ...process.env, PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD: '1' },
    shell: process.platform === 'win32',
  })
  if (result.status !== 0) fail('The packages could not be installed; the lines above say why.')
  fs.writeFileSync(stamp, wanted)
}

/** Whether everything is built as it would be built now. */
export function isBuilt() {
  return readStamp(path.join(root, 'dist', '.built')) === hashOf(SOURCES)
}

/** Builds what has changed since the last build. `appToo` false builds only the command line and the workers. */
export async function build({ appToo }, say = console.log) {
  const wanted = hashOf(SOURCES)
  const stamp = path.join(root, 'dist', appToo ? '.built' : '.built-node')
  if (readStamp(stamp) === wanted) return
  const unlock = await buildLock(say)
  try {
    // Another process may have built it in the meantime.
    if (readStamp(stamp) === wanted) return
    say(appToo ? 'Building the application (about a minute) …' : 'Building …')
    const { buildApp, buildNode } = await import('./build.mjs')
    const nodeStamp = path.join(root, 'dist', '.built-node')
    // What is built is not written again: it may be running.
    if (readStamp(nodeStamp) !== wanted) {
      fs.rmSync(nodeStamp, { force: true })
      await buildNode()
      fs.writeFileSync(nodeStamp, wanted)
    }
    if (appToo) {
      fs.rmSync(stamp, { force: true })
      await buildApp()
      fs.writeFileSync(stamp, wanted)
    }
  } finally {
    unlock()
  }
}

/** Waits until no other process builds here: two builds at once would tear each other's files apart. */
async function buildLock(say) {
  const file = path.join(root, 'node_modules', '.good-thud-building')
  for (let waited = 0; ; waited++) {
    try {
      fs.writeFileSync(file, String(process.pid), { flag: 'wx' })
      return () => fs.rmSync(file, { force: true })
    } catch (error) {
      if (error.code !== 'EEXIST') throw error
    }
    if (!isAlive(Number(readStamp(file)))) fs.rmSync(file, { force: true })
    else if (waited === 0) say('Waiting for another build to end …')
    await new Promise((resolve) => setTimeout(resolve, 250))
  }
}

/** Whether a process has ended and only its entry is left, where the system tells. */
function isDead(pid) {
  try {
    return /\) [ZX] /.test(fs.readFileSync(`/proc/${pid}/stat`, 'utf8'))
  } catch {
    return false
  }
}

export function isAlive(pid) {
  try {
    process.kill(pid, 0)
    return pid > 0 && !isDead(pid)
  } catch {
    return false
  }
}

function readStamp(file) {
  try {
    return fs.readFileSync(file, 'utf8')
  } catch {
    return ''
  }
}

function hashOf(entries) {
  const hash = createHash('sha256')
  for (const entry of entries) {
    const full = path.join(root, entry)
    if (!fs.existsSync(full)) continue
    const files = fs.statSync(full).isDirectory() ? filesIn(full) : [full]
    for (const file of files) {
      if (/\.(test|spec)\.tsx?$|\.(mp4|ogg)$/.test(file)) continue
      hash.update(path.relative(root, file)).update(fs.readFileSync(file))
    }
  }
  return hash.digest('hex')
}

function filesIn(dir) {
  return fs
    .readdirSync(dir, { withFileTypes: true, recursive: true })
    .filter((entry) => entry.isFile())
    .map((entry) => path.join(entry.parentPath ?? entry.path, entry.name))
    .sort()
}
