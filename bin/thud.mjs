#!/usr/bin/env node
// The command line. Makes itself ready on a fresh clone, then hands over to the built program.
import { spawn } from 'node:child_process'
import os from 'node:os'
import path from 'node:path'
import { fileURLToPath, pathToFileURL } from 'node:url'
import { memoryEnvironment, memoryOptions } from '../scripts/memory.mjs'
import { build, checkNode, fail, installPackages, root } from '../scripts/ready.mjs'

const args = process.argv.slice(2)
// The process that it goes on in, and the tests, have made everything ready before.
const isReady = process.env.THUD_READY === 'yes'
if (!isReady) {
  const tooOld = checkNode()
  if (tooOld) fail(tooOld)
  installPackages(console.error)
  await build({ appToo: false }, console.error)
}
// How memory is given back is told to a process before it begins.
if (args[0] === 'check' && !isReady) handOver()
else {
  const { main } = await import(pathToFileURL(path.join(root, 'dist', 'node', 'thud.mjs')).href)
  process.exitCode = await main(args)
}

/** Goes on in a process of its own, and ends as that one does. */
function handOver() {
  // What ends this one ends that one, which tells what it has to. Heard before that one is there, so that none is left behind.
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => child.kill(signal))
  const child = spawn(process.execPath, [...memoryOptions(), fileURLToPath(import.meta.url), ...args], {
    stdio: 'inherit',
    env: { ...memoryEnvironment(), THUD_READY: 'yes' },
  })
  child.once('error', (error) => fail(error.message))
  child.once('exit', (code, signal) => {
    process.exitCode = code ?? 128 + os.constants.signals[signal]
  })
}
