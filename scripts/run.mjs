// Starts Good Thud: `npm run demo` with the demo's data, `npm start` with none. Makes everything ready first.
import { fork } from 'node:child_process'
import fs from 'node:fs'
import net from 'node:net'
import os from 'node:os'
import path from 'node:path'
import util from 'node:util'
import { memoryEnvironment, memoryOptions } from './memory.mjs'
import { build, checkNode, fail, installPackages, isAlive, isBuilt, root } from './ready.mjs'

const USAGE = 'Options: --port N (4800), --data DIR, --reset (makes the data anew)'
const DEFAULT_PORT = 4800
const READY_MS = 60_000
/** Lower than what somebody waits for. */
const SEED_PRIORITY = 10
/** It is asked this often how far the demo's data are, ms. */
const ASK_EVERY_MS = 500

const tooOld = checkNode()
if (tooOld) fail(tooOld)
const options = readOptions()
await requireFreePort(options.port)
requireWritable(options.data)
// The tests start it many times, and have made everything ready before.
const isReady = process.env.THUD_READY === 'yes'
if (!isReady) installPackages()
await requireUnlocked(options.data)
if (!isReady) await build({ appToo: false })
if (options.reset) resetData(options.data)

const children = []
let ending = false
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => end(0))

const libraries = await startStandins(path.join(options.data, 'standins'), path.join(root, 'demo', 'sounds'))
const environment = {
  THUD_ROOT: root,
  THUD_DATA: options.data,
  THUD_NODE_DIR: path.join(root, 'dist', 'node'),
  THUD_LIBRARIES: JSON.stringify(libraries),
  ...(options.demo ? { THUD_PREPARED_BY: path.join(root, 'dist', 'node', 'prepare.mjs') } : {}),
}
if (!isReady && !isBuilt()) await buildPages()
await startApp()
if (options.demo) await firstSounds()
console.log(`\nGood Thud is ready: http://localhost:${options.port}\nCtrl-C ends it.`)
if (options.demo)
  // It can be ended at any time.
  await demoComplete().catch((error) => {
    if (!ending) console.error(`How far the demo is cannot be told: ${error.message}`)
  })

/** The demo's data are begun meanwhile by what is built already; the application goes on with them. */
async function buildPages() {
  const seed = options.demo ? startSeed() : null
  const problem = await build({ appToo: true }).then(
    () => null,
    (error) => error.message,
  )
  await seed?.end()
  if (problem === null) return
  console.error(problem)
  end(1)
  await new Promise(() => {})
}

function readOptions() {
  let values
  try {
    values = util.parseArgs({
      options: {
        demo: { type: 'boolean', default: false },
        port: { type: 'string' },
        data: { type: 'string' },
        reset: { type: 'boolean', default: false },
      },
    }).values
  } catch (error) {
    fail(`${error.message}\n${USAGE}`, 2)
  }
  const port = values.port === undefined ? DEFAULT_PORT : Number(values.port)
  if (!Number.isInteger(port) || port < 1 || port > 65535) fail(`--port takes a number from 1 to 65535.\n${USAGE}`, 2)
  const data = path.resolve(values.data ?? path.join(root, 'data', values.demo ? 'demo' : 'own'))
  return { demo: values.demo, port, data, reset: values.reset }
}

function requireFreePort(port) {
  return new Promise((resolve) => {
    const probe = net.createServer()
    probe.once('error', (error) =>
      fail(
        error.code === 'EADDRINUSE'
          ? `Port ${port} is in use. Start with another one: npm run demo -- --port ${port + 1}`
          : `Port ${port} cannot be used (${error.code}). Start with another one: npm run demo -- --port 4900`,
      ),
    )
    probe.listen(port, '127.0.0.1', () => probe.close(resolve))
  })
}

function requireWritable(dir) {
  const probe = path.join(dir, '.writable')
  try {
    fs.mkdirSync(dir, { recursive: true })
    fs.writeFileSync(probe, '')
    fs.rmSync(probe)
  } catch (error) {
    fail(`The data folder ${dir} cannot be written (${error.code}). Name another one with --data DIR.`)
  }
}

function lockOptions(dir) {
  return { lockfilePath: path.join(dir, 'in-use.lock'), realpath: false, stale: 20_000 }
}

/** Two processes on one folder would do the same work twice. The application holds the lock; here it is only looked at. */
async function requireUnlocked(dir) {
  const { default: lockfile } = await import('proper-lockfile')
  // One that was killed may take a moment to be gone.
  for (let waited = 0; waited < 15 && isAlive(readOwner(dir)?.pid ?? 0); waited++) {
    if (!(await lockfile.check(dir, lockOptions(dir)))) return
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
  const isHeld = await lockfile.check(dir, lockOptions(dir))
  const owner = readOwner(dir)
  if (isHeld && (owner === null || owner.host !== os.hostname() || isAlive(owner.pid)))
    fail(
      `Good Thud already runs on ${dir}${owner ? ` (process ${owner.pid})` : ''}. End that one first, or name another folder with --data DIR.`,
    )
}

function readOwner(dir) {
  try {
    return JSON.parse(fs.readFileSync(path.join(dir, 'in-use.json'), 'utf8'))
  } catch {
    return null
  }
}

/** Removes what Good Thud wrote in the folder, and nothing else. */
function resetData(dir) {
  for (const name of ['blobs', 'features', 'incoming', 'standins', 'damaged', 'before-update'])
    fs.rmSync(path.join(dir, name), { recursive: true, force: true })
  for (const suffix of ['', '-wal', '-shm']) fs.rmSync(path.join(dir, `good-thud.sqlite${suffix}`), { force: true })
  fs.rmSync(path.join(dir, 'keys.json'), { force: true })
}

/** Works with what the build leaves over: the pages are waited for, the data are not. */
function startSeed() {
  const child = forked(path.join(root, 'dist', 'node', 'seed.mjs'), [], environment)
  if (child.pid) os.setPriority(child.pid, SEED_PRIORITY)
  const ended = new Promise((resolve) => child.once('exit', resolve))
  return {
    end: () => {
      child.kill('SIGTERM')
      return ended
    },
  }
}

/** Waits until there is something to be found. */
async function firstSounds() {
  while (isUnderWay(await preparing()) && (await asked('/api/state')).soundCount === 0) await shortly()
}

/** Says what is still being prepared, step by step, and how that ended. */
async function demoComplete() {
  let job = await preparing()
  if (!isUnderWay(job)) return
  console.log('The demo’s libraries and videos are still arriving; the page shows how far they are.')
  for (let said = ''; isUnderWay(job); job = await asked(`/api/jobs/${job.id}`)) {
    if (job.message.startsWith('Step') && job.message !== said) {
      said = job.message
      console.log(said)
    }
    await shortly()
  }
  if (job.state === 'done') console.log('The demo is complete.')
  else console.error(`The demo is not complete. ${job.message}`)
}

/** What the folder is being filled by; null when that is over. */
async function preparing() {
  return (await asked('/api/jobs')).jobs.find(({ kind }) => kind === 'prepare') ?? null
}

function isUnderWay(job) {
  return job?.state === 'queued' || job?.state === 'running'
}

function shortly() {
  return new Promise((resolve) => setTimeout(resolve, ASK_EVERY_MS))
}

async function asked(address) {
  const answer = await fetch(`http://127.0.0.1:${options.port}${address}`)
  return answer.json()
}

function startStandins(state, sounds) {
  const child = start(path.join(root, 'dist', 'node', 'standins.mjs'), [state, sounds], {})
  return new Promise((resolve) => child.once('message', ({ libraries }) => resolve(withDescriptions(libraries))))
}

/** A library that no code knows comes with its description. */
function withDescriptions(libraries) {
  const description = fs.readFileSync(path.join(root, 'libraries', 'quarry-hall.yaml'), 'utf8')
  return { ...libraries, 'quarry-hall': { ...libraries['quarry-hall'], description } }
}

async function startApp() {
  start(path.join(root, 'scripts', 'app.mjs'), [], {
    ...environment,
    HOST: '127.0.0.1',
    PORT: String(options.port),
    NODE_ENV: 'production',
  })
  const endMs = Date.now() + READY_MS
  for (;;) {
    const answer = await fetch(`http://127.0.0.1:${options.port}/api/health`).catch(() => null)
    if (answer?.ok) return warmUp()
    if (answer) fail('The application started but is not well; the lines above say why.')
    if (Date.now() > endMs) fail('The application did not start; the lines above say why.')
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
}

/** What is asked first when somebody opens it is asked once before: its code is loaded then, and nobody waits for that. */
async function warmUp() {
  const { FIRST_ASKED } = await import('./first-asked.mjs')
  for (const address of FIRST_ASKED)
    await fetch(`http://127.0.0.1:${options.port}${address}`).then(
      (answer) => answer.arrayBuffer(),
      () => null,
    )
}

/** A part without which nothing goes on. */
function start(script, args, env) {
  const child = forked(script, args, env)
  child.on('exit', (code, signal) => {
    if (ending) return
    console.error(`A part of Good Thud ended (${signal ?? code}). Start it again; nothing is lost.`)
    end(1)
  })
  return child
}

/** A process that ends with this one. */
function forked(script, args, env) {
  const child = fork(script, args, {
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    env: { ...memoryEnvironment(), ...env },
    execArgv: memoryOptions(),
  })
  children.push(child)
  return child
}

function end(status) {
  if (ending) return
  ending = true
  for (const child of children) child.kill('SIGTERM')
  const wait = setTimeout(() => {
    for (const child of children) child.kill('SIGKILL')
    process.exit(status)
  }, 3000)
  void Promise.all(
    children.map(
      (child) => child.exitCode !== null || child.signalCode !== null || new Promise((r) => child.once('exit', r)),
    ),
  ).then(() => {
    clearTimeout(wait)
    process.exit(status)
  })
}
