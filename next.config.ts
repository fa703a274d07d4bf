import type { NextConfig } from 'next'

const config: NextConfig = {
  serverExternalPackages: ['knex', 'mysql2', '@node-rs/argon2', 'pino'],
  poweredByHeader: false,
  reactStrictMode: true,
  // Formatting, lint and types are checks of their own; a build only builds.
  typescript: { ignoreBuildErrors: true },
}

export default config
