import node from '@astrojs/node'
import react from '@astrojs/react'
import tailwindcss from '@tailwindcss/vite'
import { defineConfig } from 'astro/config'

export default defineConfig({
  output: 'server',
  adapter: node({ mode: 'standalone' }),
  integrations: [react()],
  devToolbar: { enabled: false },
  security: { checkOrigin: false, allowedDomains: [{ hostname: 'localhost' }, { hostname: '127.0.0.1' }] },
  vite: {
    plugins: [tailwindcss()],
    ssr: { external: ['better-sqlite3', 'piscina', 'kysely'] },
  },
})
