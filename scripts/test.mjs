// All checks: types, lint, unit and browser tests. Installs what they need, and ends with one line that counts everything.
// Tests that take long are left out, and are all that is run with --long.
import { spawn } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { TYPE_CHECKS } from './check-types.mjs'
import { makeDemoData } from './demo-data.mjs'
import { ONE_HELPER } from './memory.mjs'
import { build, checkNode, fail, installPackages, root } from './ready.mjs'
import { commandFor, leftOutFor, readyPrograms, testFiles } from './test-programs.mjs'

// The checks keep every core at work; helpers that each process would start besides only wait for each other.
process.env.NODE_OPTIONS ??= ONE_HELPER

const tooOld = checkNode()
if (tooOld) fail(tooOld)
installPackages()
const missing = readyPrograms()
const files = testFiles(root)
const leftOut = leftOutFor(missing, root, files)
if (missing.length > 0) {
  const words = `${missing.join(', ')} cannot be installed here without being asked for a password. To install: ${commandFor(missing)}`
  // Where nobody looks at what was left out, nothing may be.
  if (process.env.CI === 'true') fail(words)
  console.log(`${words}\nUntil then these tests are left out:\n${leftOut.map((file) => `  ${file}`).join('\n')}`)
}
fs.mkdirSync(path.join(root, 'test-results'), { recursive: true })

const isLong = process.argv.includes('--long')
const building = build({ appToo: true })
// While one core builds, and makes the demo's data for the browser tests, the other checks.
const demoData = building.then(makeDemoData).then(
  () => null,
  (error) => error,
)
const parts = []
if (!isLong) {
  parts.push(
    await single('lint and format', 'node_modules/@biomejs/biome/bin/biome', ['check', '--error-on-warnings', '.']),
    await single('regular expressions in linear time', 'node_modules/eslint/bin/eslint.js', ['.']),
  )
}
await building
if (!isLong) for (const [name, program, args] of TYPE_CHECKS) parts.push(await single(name, program, args))
parts.push(await counted('unit tests', 'node_modules/vitest/vitest.mjs', unitArgs(), 'unit.json', unitCounts))
const noData = await demoData
if (noData) console.error(noData.message)
const browserFiles = files.filter((file) => file.startsWith('e2e/') && !leftOut.includes(file))
if (browserFiles.length > 0) {
  const args = ['test', ...browserFiles, isLong ? '--grep' : '--grep-invert', '@long']
  const cli = 'node_modules/@playwright/test/cli.js'
  parts.push(await counted('browser tests', cli, args, 'browser.json', browserCounts))
}
console.log('')
for (const { name, failures } of parts) for (const one of failures) console.log(`failed in ${name}: ${one}`)
for (const { name, passed, failed } of parts) console.log(`${name.padEnd(26)} ${passed} passed, ${failed} failed`)
const total = (key) => parts.reduce((sum, part) => sum + part[key], 0)
const skipped = leftOut.length > 0 ? `, ${leftOut.length} skipped` : ''
if (skipped) console.log(`${leftOut.length} files of tests were left out: ${missing.join(', ')} is missing.`)
if (!isLong) console.log('What takes long was left out; it is tested by: npm run test:long')
console.log(`\n${total('passed')} passed, ${total('failed')} failed${skipped}`)
process.exitCode = total('failed') === 0 ? 0 : 1

/** A check that passes or fails as a whole. */
async function single(name, script, args) {
  const ok = await run(name, script, args)
  return { name, passed: ok ? 1 : 0, failed: ok ? 0 : 1, failures: [] }
}

/** A runner that writes its counts into a file; no counts, or a failing exit without a failed test, count as a failure. */
async function counted(name, script, args, file, count) {
  const results = path.join(root, 'test-results', file)
  fs.rmSync(results, { force: true })
  const ok = await run(name, script, args)
  if (!fs.existsSync(results)) return { name, passed: 0, failed: 1, failures: [`no ${file} was written`] }
  const { passed, failures } = count(JSON.parse(fs.readFileSync(results, 'utf8')))
  if (failures.length === 0 && !(ok && passed > 0)) failures.push('it ended with an error')
  return { name, passed, failed: failures.length, failures }
}

function unitArgs() {
  const filter = `--tagsFilter=${isLong ? 'long' : '!long'}`
  return ['run', filter, ...leftOut.filter((file) => !file.startsWith('e2e/')).flatMap((file) => ['--exclude', file])]
}

/** A file that fails without a failed test of its own, in being read for one, counts as one. */
function unitCounts({ numPassedTests, testResults }) {
  const failures = testResults
    .filter(({ status }) => status === 'failed')
    .flatMap(({ name, message, assertionResults }) => {
      const failed = assertionResults.filter(({ status }) => status === 'failed')
      const lines = failed.map(({ fullName, failureMessages }) => `${fullName}: ${firstLine(failureMessages[0])}`)
      const file = path.relative(root, name)
      return (lines.length > 0 ? lines : [firstLine(message)]).map((line) => `${file} ${line}`)
    })
  return { passed: numPassedTests, failures }
}

/** A test that passed only when it was tried again, or was left out, counts as failed. */
function browserCounts({ stats, suites, errors }) {
  const specsOf = (suite) => [...(suite.specs ?? []), ...(suite.suites ?? []).flatMap(specsOf)]
  const failures = suites
    .flatMap(specsOf)
    .filter(({ tests }) => tests.some(({ status }) => status !== 'expected'))
    .map(({ file, line, title, tests }) => {
      const message = tests.flatMap(({ results }) => results.map(({ error }) => error?.message)).find(Boolean)
      return `${file}:${line} ${title}: ${firstLine(message)}`
    })
  return { passed: stats.expected, failures: [...failures, ...errors.map(({ message }) => firstLine(message))] }
}

function firstLine(message = '') {
  // biome-ignore lint/suspicious/noControlCharactersInRegex: colours of the terminal are taken out
  return message.replace(/\u001b\[[0-9;]*m/g, '').split('\n')[0]
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
