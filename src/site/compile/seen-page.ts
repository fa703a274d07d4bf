import { load, type CheerioAPI } from 'cheerio'
import * as csstree from 'css-tree'
import type { Decision } from '@/core/decide'
import type { TestId, VersionId } from '@/core/ids'
import { asAsked } from '@/core/page-address'
import { assemblyOf } from '../serve/assemble'
import type { CompiledPage, CompiledSite } from './compile'

/** A page as the visitors of a version get it, without what nobody can see. */
export function seenPage(page: CompiledPage, test: TestId, version: VersionId): CheerioAPI {
  const dom = load(
    assemblyOf(page.chunks)
      .whole([given(test, version)])
      .toString(),
  )
  for (const selector of hidingSelectors(page, dom)) dropMatching(dom, selector)
  dom('.hidden-part, [hidden], template, script').remove()
  return dom
}

/** Whether visitors are drawn there, and not only known again. */
export const varies = ({ draws }: CompiledPage, test: TestId) =>
  draws.some((draw) => draw.test === test && draw.keptOnly !== true)

/** The page that is shown in a version: who is sent to another page gets that one. */
export function gotInstead(page: CompiledPage, version: VersionId, test: TestId, site: CompiledSite): CompiledPage {
  const route = page.routes.find(({ key }) => key === test)?.to.get(version) ?? page.route
  if (route === null) return page
  return [...site.pages.values()].find(({ path }) => asAsked(path) === route.split('#')[0]) ?? page
}

/** Where what is shown of a page leads: its links, and its forms when they are sent. */
export function leading(dom: CheerioAPI, page: CompiledPage, site: CompiledSite): { address: string; words: string }[] {
  const links = dom('body a[href]')
    .toArray()
    .map((link) => ({ address: dom(link).attr('href') ?? '', words: dom(link).text().trim() }))
  const forms = dom('form[action]')
    .toArray()
    .flatMap((form) => {
      const next = page.forms.get(dom(form).attr('action') ?? '')?.next ?? ''
      const button = dom(form).find('button').text().trim()
      return next === '' || button === '' ? [] : [{ address: site.view.addressOf(next), words: button }]
    })
  return [...links, ...forms]
}

export function given(key: string, version: VersionId): Decision {
  return { key, version, counted: true, reason: { code: 'kept' } }
}

/** Selectors of the page's own styles that take something out of sight whatever the window and the pointer. */
function hidingSelectors(page: CompiledPage, dom: CheerioAPI): string[] {
  const sheets = dom('link[rel=stylesheet]')
    .toArray()
    .flatMap((link) => page.styles.get(dom(link).attr('href') ?? '')?.toString() ?? [])
  return sheets.flatMap((css) => {
    const found: string[] = []
    const sheet = csstree.parse(css)
    if (sheet.type !== 'StyleSheet') return found
    sheet.children.forEach((rule) => {
      if (rule.type !== 'Rule') return
      const hides = rule.block.children.some(
        (one) =>
          one.type === 'Declaration' &&
          ['display none', 'visibility hidden', 'opacity 0'].includes(
            `${one.property} ${csstree.generate(one.value)}`.toLowerCase(),
          ),
      )
      if (hides) found.push(csstree.generate(rule.prelude))
    })
    return found
  })
}

function dropMatching(dom: CheerioAPI, selector: string): void {
  // What holds only while something is pointed at, or is drawn beside an element, hides nothing for good.
  if (/:(hover|focus|active|checked|target|visited)|::/.test(selector)) return
  try {
    dom(selector).remove()
  } catch {
    // A selector that is not understood here hides nothing here.
  }
}
