// Compiles the hearing kernel to SIMD WebAssembly and writes its bytes as a module, so that the core reads no file.
import fs from 'node:fs'
import path from 'node:path'
import { fileURLToPath } from 'node:url'

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..')
const SOURCE = 'src/core/hearing/kernel/kernel.as'
const OUT = path.join(root, 'src', 'core', 'hearing', 'kernel', 'kernel-bytes.ts')

/** The module's text for the present source. */
export async function kernelModule() {
  const { main } = (await import('assemblyscript/asc')).default
  let binary = null
  const { error, stderr } = await main(
    [
      'kernel.as.ts',
      '--outFile',
      'kernel.wasm',
      '-O3',
      '--noAssert',
      '--enable',
      'simd',
      '--runtime',
      'stub',
      '--importMemory',
      '--use',
      'abort=',
    ],
    {
      readFile: (name) => (name === 'kernel.as.ts' ? fs.readFileSync(path.join(root, SOURCE), 'utf8') : null),
      writeFile: (name, contents) => {
        if (name.endsWith('.wasm')) binary = contents
      },
      listFiles: () => [],
    },
  )
  if (error || !binary) throw new Error(`the kernel could not be compiled: ${error ?? stderr}`)
  const hex = Buffer.from(binary).toString('hex')
  const lines = hex.match(/.{1,100}/g) ?? []
  return `// Made from kernel.as by scripts/build-kernel.mjs. Do not edit.\n\n/** The compiled kernel, hexadecimal. */\nexport const KERNEL_HEX =\n${lines.map((line) => `  '${line}'`).join(' +\n')}\n`
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  fs.writeFileSync(OUT, await kernelModule())
  console.log(`${path.relative(root, OUT)}: ${fs.statSync(OUT).size} bytes`)
}
