import { execFile } from 'node:child_process'
import fs from 'node:fs'
import https from 'node:https'
import type { AddressInfo } from 'node:net'
import path from 'node:path'
import { promisify } from 'node:util'
import { build } from 'esbuild'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { ROOT, temporaryDir } from '../world'

/** Key and certificate of a library behind an authority of one's own; made for this test and of no other use. */
const PEM = path.join(ROOT, 'test', 'files', 'own-authority.pem')
const dir = temporaryDir('certificates')
const program = path.join(ROOT, 'dist', 'programs', 'certificates-test.mjs')
let library: https.Server

beforeAll(async () => {
  const pem = fs.readFileSync(PEM)
  library = https.createServer({ key: pem, cert: pem }, (_, response) => response.end('{"plan":"Inside"}'))
  await new Promise<void>((resolve) => library.listen(0, 'localhost', resolve))
  await build({
    stdin: {
      contents: `import { z } from 'zod'
        import { SourceHttp } from './src/server/sources/source-http'
        const policy = { backoffMs: 1, requestsPerS: 100, chance: () => 0.5 }
        const http = new SourceHttp('The library', process.argv[2], policy)
        const said = await http.json('/me', z.object({ plan: z.string() }), { signal: AbortSignal.timeout(20000) })
          .then(({ plan }) => plan, (error) => error.message)
        console.log(said)`,
      resolveDir: ROOT,
      loader: 'ts',
    },
    outfile: program,
    bundle: true,
    format: 'esm',
    platform: 'node',
    packages: 'external',
  })
})
afterAll(() => {
  library.close()
  fs.rmSync(program, { force: true })
  fs.rmSync(dir, { recursive: true, force: true })
})

async function askedWith(env: Readonly<Record<string, string>>): Promise<string> {
  const url = `https://localhost:${(library.address() as AddressInfo).port}`
  const { NODE_EXTRA_CA_CERTS: _, ...others } = process.env
  const { stdout } = await promisify(execFile)(process.execPath, [program, url], { env: { ...others, ...env } })
  return stdout.trim()
}

it('a library behind a certificate of one’s own is asked once the certificate is named, and not before', {
  tags: 'long',
}, async () => {
  expect(await askedWith({})).toContain('The library cannot be reached')
  expect(await askedWith({ NODE_EXTRA_CA_CERTS: PEM })).toBe('Inside')
  // A proxy for the web is not asked for this machine.
  expect(await askedWith({ NODE_EXTRA_CA_CERTS: PEM, HTTPS_PROXY: 'http://127.0.0.1:9' })).toBe('Inside')
})
