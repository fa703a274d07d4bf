import { spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { DOMParser } from '@xmldom/xmldom'
import * as z from 'zod'
import { identitySchema } from '@/core/identity'
import { releaseSchema } from '@/core/release'
import { compile } from '@/site/compile/compile'
import { makeSite } from '@/site/site'
import { callsToAction, draftPages, menus, publishedPages, sharedComponents, styles } from './site-pages'

const origin = 'https://music.example'

/** The checker that the W3C's own service runs; its program comes with the package. */
const checker = join(dirname(createRequire(__filename).resolve('vnu-jar/package.json')), 'build/dist/vnu.jar')
const findings = z.object({
  messages: z.array(
    z.object({ type: z.string(), url: z.string().default(''), message: z.string(), extract: z.string().default('') }),
  ),
})

function demoSite() {
  const documents = [...publishedPages, ...draftPages, ...menus, ...callsToAction, ...sharedComponents, ...styles]
  const release = releaseSchema.parse({
    documents,
    rounds: [],
    personalizations: [],
    goals: [],
    identity: identitySchema.parse({ name: 'Pinemoth', mark: 'moth', smallPrint: 'In the old mill' }),
  })
  const compiled = compile(release, { script: '/look/count.js', style: '/look/site.css', origin })
  const site = makeSite({
    current: () => compiled,
    assets: new Map(),
    media: new Map(),
    writeEvents: () => Promise.resolve(),
    keepEntry: () => Promise.resolve(),
    now: () => 0,
    log: () => undefined,
    origin,
  })
  return { site, compiled }
}

test('every page of the demo, and the one for what is not there, is valid HTML', async () => {
  const { site, compiled } = demoSite()
  const folder = mkdtempSync(join(tmpdir(), 'pages-'))
  try {
    const paths = [...compiled.pages.keys(), '/not-there']
    for (const [index, url] of paths.entries()) writeFileSync(join(folder, `${index}.html`), (await site.inject({ url })).body)
    const run = spawnSync('java', ['-jar', checker, '--format', 'json', '--exit-zero-always', '--errors-only', folder], {
      encoding: 'utf8',
      maxBuffer: 20_000_000,
    })
    if (run.error !== undefined) throw new Error('The checker needs Java (Debian: default-jre-headless).', { cause: run.error })
    const { messages } = findings.parse(JSON.parse(run.stderr))
    const said = messages.map(
      ({ url, message, extract }) => `${paths[Number.parseInt(url.split('/').at(-1) ?? '', 10)]}: ${message} ${extract}`,
    )
    expect(said).toEqual([])
    expect(paths.length).toBeGreaterThan(20)
  } finally {
    rmSync(folder, { recursive: true })
  }
})

test('the map of the site is one, as another parser reads it: every address in it is a page that names itself so', async () => {
  const { site } = demoSite()
  const map = new DOMParser().parseFromString((await site.inject({ url: '/sitemap.xml' })).body, 'text/xml')
  const root = map.documentElement
  expect([root?.localName, root?.namespaceURI]).toEqual(['urlset', 'http://www.sitemaps.org/schemas/sitemap/0.9'])
  const addresses = [...map.getElementsByTagName('loc')].map(({ textContent }) => textContent ?? '')
  expect(new Set(addresses).size).toBe(addresses.length)
  expect(addresses.length).toBeGreaterThan(15)
  for (const address of addresses) {
    const { statusCode, body } = await site.inject({ url: address.slice(origin.length) })
    expect([address, statusCode, body.includes(`<link rel="canonical" href="${address}">`)]).toEqual([address, 200, true])
  }
})
