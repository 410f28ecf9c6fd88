import { build } from '../scripts/ready.mjs'

/** Workers, command line and seed are bundled before the tests that start them in threads and processes. */
export default async function setup(): Promise<void> {
  process.env.THUD_LOG = 'quiet'
  await build({ appToo: false })
}
