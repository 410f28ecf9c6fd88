import { openApp, optionsFromEnvironment } from '../src/server/app'

/*
 * `seed.mjs` works on a data folder while the pages are still being built: it begins what the folder is to be filled with, until it is told to end. What is
 * not done then is gone on with by the application.
 */
const app = await openApp(optionsFromEnvironment())
let ending = false
for (const event of ['SIGTERM', 'disconnect']) process.once(event, () => void end())

async function end(): Promise<void> {
  if (ending) return
  ending = true
  await app.close()
  process.exit(0)
}
