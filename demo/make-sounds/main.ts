import path from 'node:path'
import { DEMO_LIBRARIES } from '../synthesis/catalogue'
import { makeLibrary } from '../synthesis/make-library'

/*
 * Makes the catalogues and previews of the stand-in libraries from their recipes. Its results are committed, so that starting the demo does not wait for
 * them. Run after a recipe has changed: npm run demo:sounds
 */
const root = process.argv[2] ?? '.'
for (const library of DEMO_LIBRARIES) {
  await makeLibrary(path.join(root, 'demo', 'sounds', library), library)
  console.log(`${library} is made.`)
}
