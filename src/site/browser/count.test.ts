import { buildSync } from 'esbuild'
import { gzipSync } from 'node:zlib'
import { join } from 'node:path'

test('the browser script is at most 2 kB gzipped', () => {
  const { outputFiles } = buildSync({
    entryPoints: [join(__dirname, 'count.ts')],
    bundle: true,
    minify: true,
    target: 'es2020',
    format: 'iife',
    write: false,
  })
  expect(gzipSync(outputFiles[0]?.contents ?? '').length).toBeLessThanOrEqual(2048)
})
