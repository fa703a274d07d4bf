import type { NextConfig } from 'next'

const config: NextConfig = {
  serverExternalPackages: ['knex', 'mysql2', '@node-rs/argon2', 'pino'],
  poweredByHeader: false,
  reactStrictMode: true,
  // Also of what nobody handles: an address that is none.
  headers: async () => [{ source: '/:path*', headers: [{ key: 'x-content-type-options', value: 'nosniff' }] }],
  turbopack: {
    resolveAlias: {
      // Cleaning rich text never reads style attributes, so a browser need not carry the parser for them.
      postcss: { browser: './src/components/no-style-parser.ts' },
      domutils: { browser: './src/components/no-serializer.ts' },
      // Only the server draws markup; a browser keeps the page live instead.
      'react-dom/server': { browser: './src/studio/desk/no-markup.ts' },
    },
  },
  // Formatting, lint and types are checks of their own; a build only builds.
  typescript: { ignoreBuildErrors: true },
}

export default config
