// Starts the built application. It reads HOST, PORT, and what src/server/context.ts names, from the environment.
process.env.ASTRO_NODE_AUTOSTART = 'disabled'
const { startServer } = await import('../dist/app/server/entry.mjs')
// Longer than any client waits before it asks again over the same connection: at the 5 s that are usual, a question can meet the
// closing of its connection, and is answered by nothing.
startServer().server.server.keepAliveTimeout = 120_000
