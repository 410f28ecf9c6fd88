// All checks: types, lint, unit and browser tests. Installs what they need, and ends with one line that counts everything.
import { spawn, spawnSync } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { makeDemoData } from './demo-data.mjs'
import { build, checkNode, fail, installPackages, root } from './ready.mjs'

const tooOld = checkNode()
if (tooOld) fail(tooOld)
installPackages()
installPrograms()
await build({ appToo: true })
fs.mkdirSync(path.join(root, 'test-results'), { recursive: true })

// While one core checks types, the other makes the demo's data for the browser tests.
const demoData = makeDemoData().then(
  () => null,
  (error) => error,
)

const parts = [
  await single('types', 'node_modules/astro/astro.js', ['check', '--minimumSeverity', 'error']),
  await single('types of the core alone', 'node_modules/typescript/bin/tsc', ['-p', 'src/core']),
  await single('lint and format', 'node_modules/@biomejs/biome/bin/biome', ['check', '--error-on-warnings', '.']),
  await single('regular expressions in linear time', 'node_modules/eslint/bin/eslint.js', ['.']),
  await counted('unit tests', 'node_modules/vitest/vitest.mjs', ['run'], 'unit.json', (result) => ({
    passed: result.numPassedTests,
    failed: result.numFailedTests + result.numFailedTestSuites,
  })),
]
const noData = await demoData
if (noData) console.error(noData.message)
parts.push(
  await counted('browser tests', 'node_modules/@playwright/test/cli.js', ['test'], 'browser.json', ({ stats }) => ({
    passed: stats.expected,
    failed: stats.unexpected + stats.flaky + stats.skipped,
  })),
)
console.log('')
for (const { name, passed, failed } of parts) console.log(`${name.padEnd(26)} ${passed} passed, ${failed} failed`)
const total = (key) => parts.reduce((sum, part) => sum + part[key], 0)
console.log(`\n${total('passed')} passed, ${total('failed')} failed`)
process.exitCode = total('failed') === 0 ? 0 : 1

/** A check that passes or fails as a whole. */
async function single(name, script, args) {
  const ok = await run(name, script, args)
  return { name, passed: ok ? 1 : 0, failed: ok ? 0 : 1 }
}

/** A runner that writes its counts into a file; no counts, or a failing exit without a failed test, count as a failure. */
async function counted(name, script, args, file, count) {
  const results = path.join(root, 'test-results', file)
  fs.rmSync(results, { force: true })
  const ok = await run(name, script, args)
  if (!fs.existsSync(results)) return { name, passed: 0, failed: 1 }
  const { passed, failed } = count(JSON.parse(fs.readFileSync(results, 'utf8')))
  return { name, passed, failed: failed > 0 || (ok && passed > 0) ? failed : 1 }
}

function run(name, script, args) {
  console.log(`\n── ${name}`)
  const child = spawn(process.execPath, [path.join(root, script), ...args], {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
    env: { ...process.env, ASTRO_TELEMETRY_DISABLED: '1', PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD: '1' },
  })
  return new Promise((resolve) => child.once('exit', (code) => resolve(code === 0)))
}

/** Chromium drives the browser tests; ffmpeg makes files of many kinds and is one of the two decoders under test. */
function installPrograms() {
  const missing = [
    ['chromium', 'chromium'],
    ['ffmpeg', 'ffmpeg'],
    ['ss', 'iproute2'],
    ['pgrep', 'procps'],
  ].filter(([program]) => spawnSync('sh', ['-c', `command -v ${program}`], { stdio: 'ignore' }).status !== 0)
  if (missing.length === 0) return
  const names = missing.map(([, name]) => name)
  const apt = spawnSync('sh', ['-c', 'command -v apt-get'], { stdio: 'ignore' }).status === 0
  if (!apt) fail(`The tests need ${names.join(' and ')}. Install them and run npm test again.`)
  console.log(`Installing ${names.join(', ')} …`)
  const sudo = process.getuid?.() === 0 ? [] : ['sudo']
  for (const args of [
    ['update', '-qq'],
    ['install', '-y', '-qq', '--no-install-recommends', ...names],
  ]) {
    const [command, ...rest] = [...sudo, 'apt-get', ...args]
    const result = spawnSync(command, rest, {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    })
    if (result.status !== 0) fail(`${names.join(' and ')} could not be installed; the lines above say why.`)
  }
}
