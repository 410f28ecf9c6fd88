// Compiles the kernels to SIMD WebAssembly and writes their bytes as modules, so that the core reads no file.
import fs from 'node:fs'
import path from 'node:path'
import { fileURLToPath } from 'node:url'

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..')
/** Sources below src/core, each with the module that its bytes go to and the name they have there. */
export const KERNELS = {
  fft: { source: 'audio/fft.as', out: 'audio/fft-bytes.ts', constant: 'FFT_HEX' },
  hearing: { source: 'hearing/kernel/kernel.as', out: 'hearing/kernel/kernel-bytes.ts', constant: 'KERNEL_HEX' },
  products: { source: 'hearing/lookup/products.as', out: 'hearing/lookup/products-bytes.ts', constant: 'PRODUCTS_HEX' },
  resample: { source: 'audio/resample.as', out: 'audio/resample-bytes.ts', constant: 'RESAMPLE_HEX' },
}

/** The module's text for the present source. */
export async function kernelModule({ source, constant }) {
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
      readFile: (name) => {
        const file = name === 'kernel.as.ts' ? source : name === 'fft.ts' ? KERNELS.fft.source : null
        return file && fs.readFileSync(path.join(root, 'src', 'core', file), 'utf8')
      },
      writeFile: (name, contents) => {
        if (name.endsWith('.wasm')) binary = contents
      },
      listFiles: () => [],
    },
  )
  if (error || !binary) throw new Error(`the kernel could not be compiled: ${error ?? stderr}`)
  const hex = Buffer.from(binary).toString('hex')
  const lines = hex.match(/.{1,100}/g) ?? []
  return `// Made from ${path.basename(source)} by scripts/build-kernel.mjs. Do not edit.\n\n/** The compiled kernel, hexadecimal. */\nexport const ${constant} =\n${lines.map((line) => `  '${line}'`).join(' +\n')}\n`
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  for (const kernel of Object.values(KERNELS)) {
    const out = path.join(root, 'src', 'core', kernel.out)
    fs.writeFileSync(out, await kernelModule(kernel))
    console.log(`${kernel.out}: ${fs.statSync(out).size} bytes`)
  }
}
