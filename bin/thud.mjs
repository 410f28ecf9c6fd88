#!/usr/bin/env node
// The command line. Makes itself ready on a fresh clone, then hands over to the built program.
import path from 'node:path'
import { pathToFileURL } from 'node:url'
import { build, checkNode, fail, installPackages, root } from '../scripts/ready.mjs'

const tooOld = checkNode()
if (tooOld) fail(tooOld)
installPackages(console.error)
await build({ appToo: false }, console.error)
const { main } = await import(pathToFileURL(path.join(root, 'dist', 'node', 'thud.mjs')).href)
process.exitCode = await main(process.argv.slice(2))
