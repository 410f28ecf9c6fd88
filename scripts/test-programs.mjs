// The programs that tests need: what is missing is installed where that asks for nothing, else the tests that need it are left out and named.
import { spawnSync } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { chromiumPath } from './chromium.mjs'

/** Chromium drives the browser tests; ffmpeg makes files of many kinds and is one of the two decoders under test. Each is in the first of its packages that a system has. */
const PROGRAMS = [
  { name: 'chromium', from: ['chromium-headless-shell', 'chromium'] },
  { name: 'ffmpeg', from: ['ffmpeg'] },
  { name: 'ss', from: ['iproute2'] },
  { name: 'pgrep', from: ['procps'] },
]

/** @returns Names of the programs that are still missing. Never asks for a password. */
export function readyPrograms(say = console.log) {
  const missing = PROGRAMS.filter(({ name }) => !isHere(name))
  if (missing.length === 0) return []
  const how = howToInstall({
    isRoot: process.getuid?.() === 0,
    hasApt: isHere('apt-get'),
    hasSudo: isHere('sudo') && spawnSync('sudo', ['-n', 'true'], { stdio: 'ignore' }).status === 0,
  })
  if (how) {
    const apt = (...args) => {
      const [command, ...rest] = [...how, ...args]
      const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' }
      spawnSync(command, rest, { stdio: ['ignore', 'ignore', 'inherit'], env })
    }
    apt('update', '-qq')
    const packages = packagesFor(missing)
    say(`Installing ${packages.join(', ')} …`)
    apt('install', '-y', '-qq', '--no-install-recommends', ...packages)
  }
  return missing.map(({ name }) => name).filter((name) => !isHere(name))
}

/** @returns The command that installs Debian's packages without asking for anything, or null where there is none. */
export function howToInstall({ isRoot, hasApt, hasSudo }) {
  if (!hasApt) return null
  if (isRoot) return ['apt-get']
  return hasSudo ? ['sudo', '-n', 'apt-get'] : null
}

/**
 * The packages that some programs are in.
 *
 * @param has Whether a package can be installed from where this system takes its packages.
 */
export function packagesFor(programs, has = isOffered) {
  return programs.map(({ from }) => from.find(has) ?? from.at(-1))
}

function isOffered(name) {
  return spawnSync('apt-cache', ['show', '--quiet=2', name], { stdio: 'ignore' }).status === 0
}

/** The one command to type where nothing can be installed unasked. */
export function commandFor(missing) {
  const packages = packagesFor(PROGRAMS.filter(({ name }) => missing.includes(name)))
  return isHere('apt-get')
    ? `sudo apt-get install -y ${packages.join(' ')}`
    : `the package manager of this system, for ${packages.join(', ')}`
}

/**
 * Files of tests that call one of some programs.
 *
 * @param files Their paths, from the root.
 * @returns Those to leave out. Browser tests all need chromium.
 */
export function leftOutFor(missing, root, files) {
  const called = missing.filter((name) => name !== 'chromium')
  return files.filter((file) => {
    if (file.startsWith('e2e/') && missing.includes('chromium')) return true
    const text = fs.readFileSync(path.join(root, file), 'utf8')
    return called.some((name) => text.includes(`'${name}'`))
  })
}

/** All files of tests, from the root. */
export function testFiles(root) {
  return ['src', 'demo', 'test', 'e2e'].flatMap((folder) =>
    fs
      .readdirSync(path.join(root, folder), { recursive: true })
      .map((name) => path.posix.join(folder, String(name).split(path.sep).join('/')))
      .filter((name) => /\.(test|spec)\.ts$/.test(name)),
  )
}

function isHere(program) {
  if (program === 'chromium') return chromiumPath() !== null
  return spawnSync('sh', ['-c', `command -v ${program}`], { stdio: 'ignore' }).status === 0
}
