import { spawn } from 'node:child_process'
import { createHash } from 'node:crypto'
import { cpSync, existsSync, mkdirSync, readFileSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { build as bundle } from 'esbuild'
import { LOOK_FOLDER } from '@/site/assets'
import { Progress } from './progress'
import { Trouble } from './trouble'

const STAMP = join('dist', 'built-from')
const SOURCES = ['src', 'package.json', 'package-lock.json', 'next.config.ts', 'tsconfig.json']

/** Builds what is older than its sources: the studio, the bundles of the other programs, and the look of the site. */
export async function build(options: { force: boolean }): Promise<void> {
  const { whole } = await buildBeside(options)
  await whole
}

/** The same, with all but the studio built when this resolves; `whole` resolves when that is there too. */
export async function buildBeside({ force } = { force: false }): Promise<{ readonly whole: Promise<void> }> {
  const sources = fingerprint(SOURCES)
  if (!force && existsSync(STAMP) && readFileSync(STAMP, 'utf8') === sources && existsSync('.next/BUILD_ID'))
    return { whole: Promise.resolve() }
  const shown = new Progress('Building', null)
  rmSync('dist', { recursive: true, force: true })
  await buildLook()
  await buildProcesses()
  const whole = buildStudio()
    .then(() => writeFileSync(STAMP, sources))
    .then(
      () => shown.end(),
      (reason: unknown) => {
        shown.end('broken off')
        throw reason
      },
    )
  // Said where it is waited for, not before.
  whole.catch(() => undefined)
  return { whole }
}

async function buildStudio(): Promise<void> {
  const studio = spawn('npm', ['run', '--silent', 'build:studio'], {
    stdio: ['ignore', 'pipe', 'pipe'],
    env: { ...process.env, NODE_ENV: 'production', NEXT_TELEMETRY_DISABLED: '1' },
  })
  const said: Buffer[] = []
  for (const stream of [studio.stdout, studio.stderr]) stream.on('data', (part: Buffer) => said.push(part))
  const code = await new Promise((done) => studio.once('close', done))
  if (code !== 0) throw new Trouble(`The studio could not be built:\n${Buffer.concat(said).toString()}`)
}

/** Styles with their typefaces, pictures and the browser script: served by the site, and by the studio for its page frames. */
export async function buildLook(): Promise<void> {
  rmSync(LOOK_FOLDER, { recursive: true, force: true })
  mkdirSync(LOOK_FOLDER, { recursive: true })
  await bundle({
    entryPoints: { site: 'src/site/look/site.css', see: 'src/site/look/see.css' },
    outdir: LOOK_FOLDER,
    bundle: true,
    minify: true,
    loader: { '.woff2': 'file' },
    assetNames: 'faces/[name]-[hash]',
    publicPath: '/look',
    logLevel: 'error',
  })
  await bundle({
    entryPoints: { count: 'src/site/browser/count.ts', report: 'src/site/browser/report.ts' },
    outdir: LOOK_FOLDER,
    bundle: true,
    minify: true,
    target: 'es2020',
    format: 'iife',
    logLevel: 'error',
  })
  cpSync('src/site/media', join(LOOK_FOLDER, 'media'), { recursive: true })
}

/** Every program but the studio's own pages: the site, the jobs, what reads files from outside, and the studio's server. */
export async function buildProcesses(): Promise<void> {
  await Promise.all(
    ['site', 'jobs', 'reader', 'studio-server'].map((name) => bundleProgram(`src/${name}/main.ts`, `dist/${name}.mjs`)),
  )
}

/** One program as it runs in service: all of ours in one file, packages beside it. */
export async function bundleProgram(entry: string, outfile: string): Promise<void> {
  await bundle({
    entryPoints: [entry],
    outfile,
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'esm',
    packages: 'external',
    jsx: 'automatic',
    define: { 'process.env.NODE_ENV': '"production"' },
    sourcemap: true,
    logLevel: 'error',
  })
}

function fingerprint(paths: readonly string[]): string {
  const hash = createHash('sha256')
  const take = (path: string) => {
    if (!existsSync(path)) return
    if (statSync(path).isDirectory()) {
      for (const name of readdirSync(path).sort()) take(join(path, name))
    } else hash.update(path).update(readFileSync(path))
  }
  paths.forEach(take)
  return hash.digest('hex')
}
