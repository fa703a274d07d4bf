import { homeOf } from '@/serving/regions'
import type { DocumentId, NodeId } from '@/core/ids'
import { lotsOf, pick, visitors } from '@/core/simulate'
import { tallyAll } from '@/jobs/work'
import { type Database } from '@/server/database/connect'
import { writeEvents } from '@/server/stores/events'
import { stamp } from '@/core/events'
import { referencesOf } from '@/components/references'
import { instruments } from './instruments'
import { callsToAction, publishedPages } from './site-pages'

const DAY = 86_400_000

const cameFrom: readonly (readonly [{ h?: string; u?: string }, number])[] = [
  [{ h: 'duckduckgo.com' }, 5],
  [{}, 3],
  [{ h: 'mastodon.example.social' }, 0.4],
  [{ h: 'town-hall.example' }, 1.2],
  [{ u: 'sunday-letter' }, 0.8],
]

/** The form that was accepted, the order of the shop, and of a few what is paid back ten days later. */
function reservation(page: string, visitor: string, at: Date): ReturnType<typeof stamp> {
  const shared = { crowd: 0, visitor, at }
  const number = `R-${page.slice(-5)}`
  const form = { kind: 'form' as const, document: 'reserve' as DocumentId, nodes: ['reserve-form' as NodeId] }
  const back = new Date(at.getTime() + 10 * DAY)
  const isBack = parseInt(page.slice(-5), 16) % 23 === 0 && back.getTime() < Date.now()
  return [
    { ...shared, id: `9${page.slice(1)}`, ...form },
    { ...shared, id: `8${page.slice(1)}`, kind: 'order', order: number, value: 24 },
    ...(isBack ? [{ ...shared, at: back, id: `7${page.slice(1)}`, kind: 'order' as const, order: number, value: -24 }] : []),
  ]
}

function aboutPage(id: string): { path: string; pageType: string } {
  const page = publishedPages.find((one) => one.id === id)
  const props = page?.nodes[page.root]?.props
  return { path: String(props?.path ?? ''), pageType: String(props?.pageType ?? '') }
}

/** Four weeks of visitors who walk through the site without any test. */
export async function seedBackground(db: Database): Promise<void> {
  const startsAt = new Date(Math.floor(Date.now() / DAY) * DAY - 28 * DAY)
  const lots = lotsOf(28)
  const anyInstrument = instruments.map(({ id }, index): readonly [string, number] => [id, 0.5 / (1 + index / 4)])
  const entries: readonly (readonly [string, number])[] = [
    ['home', 6],
    ['instruments', 2],
    ['article-january', 1],
    ['article-ten-minutes', 0.5],
    ['plans', 0.8],
    ['schools', 0.3],
    ...anyInstrument,
  ]
  const onward: readonly (readonly [string, number])[] = [
    ['instruments', 3],
    ['plans', 2],
    ['workshops', 0.4],
    ['workshop-strings', 0.2],
    ['workshop-accordion', 0.1],
    ['journal', 0.3],
    ['trial-lesson', 0.8],
    ['reserve', 1.3],
    ['about', 0.4],
    ['contact', 0.2],
    ...anyInstrument,
  ]
  const callOn = new Map(
    publishedPages.flatMap((page) =>
      referencesOf(page).flatMap(({ node, document }) => {
        const call = callsToAction.find(({ id }) => id === document)
        return call === undefined ? [] : [[page.id as string, { call: call.id, root: call.root, place: node }] as const]
      }),
    ),
  )
  let group: ReturnType<typeof stamp> = []
  let number = 0
  for (const visitor of visitors({ seed: 28, visitors: 9000, days: 28, startsAt })) {
    const pages = [pick(entries, lots())]
    while (lots() < 0.62 && pages.length < 7) pages.push(pick(onward, lots()))
    if (pages.includes('reserve') && lots() < 0.42) pages.push('reserved')
    if (pages.includes('trial-lesson') && lots() < 0.3) pages.push('trial-thanks')
    for (const [step, page] of pages.entries()) {
      const id = (number++).toString(16).padStart(32, 'b')
      const at = new Date(visitor.arrivesAt.getTime() + step * 45_000)
      const happened: Parameters<typeof stamp>[0]['e'] = [{ i: id, k: 'page' }]
      const call = callOn.get(page)
      if (call !== undefined && lots() < 0.55) {
        happened.push({ i: `c${id.slice(1)}`, k: 'call', c: call.call })
        if (lots() < 0.07) happened.push({ i: `d${id.slice(1)}`, k: 'click', n: [call.root, call.place], m: [] })
      }
      const arrival = step === 0 ? { device: visitor.device, language: 'en', region: homeOf(visitor.id) } : null
      if (step === 0) happened[0] = { i: id, k: 'page', ...pick(cameFrom, lots()) }
      if (step > 0 || pages.length > 1 || lots() < 0.45) happened.push({ i: `e${id.slice(1)}`, k: 'stay', s: 5 })
      if (page === 'about' && lots() < 0.5) happened.push({ i: `f${id.slice(1)}`, k: 'read', n: 'about-promise' as NodeId })
      const next = pages[step + 1]
      if (next === 'reserve' && lots() < 0.8) happened.push({ i: `a${id.slice(1)}`, k: 'click', n: [], m: ['reserve'] })
      const sender = { visitor: visitor.id, at, crowd: 0, page: aboutPage(page), arrival }
      group.push(...stamp({ d: page as DocumentId, e: happened }, sender))
      if (page === 'reserved') group.push(...reservation(id, visitor.id, at))
    }
    if (group.length > 2000) {
      await writeEvents(db, group)
      group = []
    }
  }
  await writeEvents(db, group)
  await tallyAll(db)
}
