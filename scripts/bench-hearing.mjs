// Measures the hearing engine in full: a thousand sounds and sets of mixes. Options are those of bench/hearing/run.ts, and
// --before REVISION: measures that version first, by its own bench with the same options.
import { spawnSync } from 'node:child_process'
import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { fail, installPackages, root } from './ready.mjs'
import { runBundled } from './run-bundled.mjs'

const { before, rest } = splitArgs(process.argv.slice(2))
installPackages()
if (before) measureBefore(before, rest)
const { buildNode } = await import('./build.mjs')
await buildNode()
if (before) console.log('\n── this version\n')
await runBundled('bench/hearing/run.ts', rest)

/** Takes `--before REVISION` out of the options. */
function splitArgs(args) {
  const at = args.indexOf('--before')
  if (at < 0) return { before: null, rest: args }
  const revision = args[at + 1]
  if (!revision || revision.startsWith('-'))
    fail('Name the version to measure first: --before REVISION, as git knows it.', 2)
  return { before: revision, rest: [...args.slice(0, at), ...args.slice(at + 2)] }
}

/** Measures a version from its own files, in a folder of its own that is removed again. */
function measureBefore(revision, args) {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'thud-before-'))
  const tree = path.join(folder, 'tree')
  const git = (...command) =>
    spawnSync('git', command, { cwd: root, stdio: ['ignore', 'ignore', 'inherit'] }).status === 0
  const isThere = git('worktree', 'add', '--quiet', '--detach', tree, revision)
  try {
    if (isThere) measureIn(tree, revision, args, git)
  } finally {
    if (isThere) git('worktree', 'remove', '--force', tree)
    fs.rmSync(folder, { recursive: true, force: true })
  }
  if (!isThere) fail(`${revision} is no version that git knows.`, 2)
}

function measureIn(tree, revision, args, git) {
  // With other packages it installs its own.
  if (git('diff', '--quiet', revision, '--', 'package-lock.json', 'patches'))
    fs.symlinkSync(path.join(root, 'node_modules'), path.join(tree, 'node_modules'))
  console.log(`── ${revision}\n`)
  const script = path.join('scripts', 'bench-hearing.mjs')
  const { status } = spawnSync(process.execPath, [script, ...args], { cwd: tree, stdio: 'inherit' })
  if (status !== 0) console.error(`${revision} could not be measured.`)
}
