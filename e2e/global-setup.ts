import { makeDemoData } from '../scripts/demo-data.mjs'
import { build } from '../scripts/ready.mjs'

/** Everything is built once, before the servers of the tests start. */
export default async function setup(): Promise<void> {
  await build({ appToo: true })
  await makeDemoData()
}
