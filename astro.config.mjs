import node from '@astrojs/node'
import react from '@astrojs/react'
import optimizeLocales from '@react-aria/optimize-locales-plugin'
import tailwindcss from '@tailwindcss/vite'
import { defineConfig } from 'astro/config'

export default defineConfig({
  output: 'server',
  // What runs beside it has a folder of its own there: the application empties this one.
  outDir: './dist/app',
  adapter: node({ mode: 'standalone' }),
  integrations: [react()],
  experimental: {
    // Every script that a page holds is named by its hash; nothing else runs, whatever comes into a page.
    csp: {
      directives: [
        "default-src 'none'",
        "connect-src 'self'",
        "img-src 'self' data: blob:",
        "media-src 'self' blob:",
        "font-src 'self' data:",
        "worker-src 'self' blob:",
        "manifest-src 'self'",
        "base-uri 'none'",
        "frame-ancestors 'none'",
        "form-action 'self'",
        "object-src 'none'",
      ],
      styleDirective: {
        resources: ["'self'"],
        // Of the one style that the parts of the interface bring along: how a press on a touch screen scrolls.
        hashes: ['sha256-38RhXrc7EdReTKsOm23ZPOCUgniTUUcjky8QOOrQx6o='],
      },
    },
  },
  devToolbar: { enabled: false },
  security: { checkOrigin: false, allowedDomains: [{ hostname: 'localhost' }, { hostname: '127.0.0.1' }] },
  vite: {
    // What the parts say of themselves to a reader of the screen, in the one language that there is.
    plugins: [tailwindcss(), { ...optimizeLocales.vite({ locales: ['en-US'] }), enforce: 'pre' }],
    // Many small files are bundled with the server: looking for each of them takes longer than all that they do at its start.
    ssr: {
      external: ['@photostructure/sqlite', 'piscina'],
      noExternal: [
        'kysely',
        'zod',
        'csv-parse',
        'csv-stringify',
        'p-queue',
        'react-aria-components',
        'react-aria',
        'react-stately',
        /^@internationalized\//,
      ],
    },
  },
})
