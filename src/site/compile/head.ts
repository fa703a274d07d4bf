import { createHash } from 'node:crypto'
import { apply, nodeAt, type ContentDocument } from '@/core/document'
import type { Identity } from '@/core/identity'
import { escaped } from '@/core/markup'
import { propsOf } from '@/components/component-type'
import { page as pageType } from '@/components/page/fields'
import { rulesOf } from '@/components/style/reach'
import { scopeStyle } from '@/components/style/scope'
import { joined, UNCOUNTED, type Chunk, type Slot } from './chunk'
import type { Varying } from './varying'

export interface HeadParts {
  readonly page: ContentDocument
  /** Everything that varies on the page, and which of it counts as the whole page. */
  readonly varying: readonly Varying[]
  readonly whole: readonly Varying[]
  readonly styles: readonly ContentDocument[]
  /** What the browser script watches for besides: components that are to be read, and seconds of staying. */
  readonly watch: { readonly reads: readonly string[]; readonly stays: readonly number[]; readonly origins: readonly string[] }
  /** Where search engines should look for this page. */
  readonly canonical: string
  readonly identity: Identity
  /** The picture in a browser’s tab; `null` where the site has none. */
  readonly icon: string | null
  readonly assets: { readonly script: string; readonly style: string }
  /** Keeps a style's rules under an address of their own, and says which. */
  keepStyle(css: string): string
}

/** The head of a page, each varying line of it a slot of its own. */
export function head(parts: HeadParts): Chunk[] {
  const { page, whole, varying, styles, canonical, assets, watch } = parts
  const text = (...lines: string[]) => Buffer.from(lines.join(''))
  const seen = whole.filter(({ marks }) => marks.size > 0)
  const onRoot = varying.filter(({ part }) => part.document === page.id && part.node === page.root)
  return joined([
    text(`<!doctype html><html lang="${escaped(parts.identity.language)}" data-d="${escaped(page.id)}"`),
    ...(seen.length === 0 ? [] : [text(' data-e="'), ...seen.map(exposureSlot), text('"')]),
    text(
      watch.reads.length === 0 ? '' : ` data-r="${escaped(watch.reads.join(' '))}"`,
      watch.origins.length === 0 ? '' : ` data-o="${escaped(watch.origins.join(' '))}"`,
      watch.stays.length === 0 ? '' : ` data-t="${watch.stays.join(' ')}"`,
      '><head><meta charset="utf-8">',
    ),
    ...about(page, onRoot),
    text(
      `<link rel="canonical" href="${escaped(canonical)}">`,
      '<meta name="viewport" content="width=device-width,initial-scale=1">',
      `<link rel="stylesheet" href="${assets.style}"><link rel="icon" href="${escaped(parts.icon ?? 'data:,')}">`,
    ),
    ...styles.flatMap((style) =>
      styleLink(
        style,
        varying.filter(({ part }) => part.document === style.id),
        parts,
      ),
    ),
    text(assets.script === '' ? '' : `<script src="${assets.script}" defer></script>`, '</head><body>'),
  ])
}

export const FOOT = '</body></html>'

/** A page that is no document of the site: nothing varies on it and nothing is counted. */
export function plainPage(title: string, style: string, body: string, language = 'en'): string {
  const about = `<!doctype html><html lang="${escaped(language)}"><head><meta charset="utf-8"><title>${escaped(title)}</title>`
  return `${about}<meta name="viewport" content="width=device-width,initial-scale=1"><link rel="stylesheet" href="${style}"></head><body>${body}${FOOT}`
}

function exposureSlot(varying: Varying): Slot {
  return {
    key: varying.key,
    alternatives: new Map<string, readonly Chunk[]>([
      [UNCOUNTED, []],
      ...[...varying.marks].map(([name, mark]): [string, readonly Chunk[]] => [name, [Buffer.from(`${mark} `)]]),
    ]),
  }
}

/** Title and description; where several tests change them, one inside the other. */
function about(page: ContentDocument, varying: readonly Varying[]): Chunk[] {
  const [first, ...rest] = varying
  const { title, description } = propsOf(pageType, nodeAt(page, page.root))
  if (first === undefined)
    return [Buffer.from(`<title>${escaped(title)}</title><meta name="description" content="${escaped(description)}">`)]
  return [slotOf(first, (edits) => about(apply(page, edits).document, rest))]
}

function styleLink(style: ContentDocument, varying: readonly Varying[], parts: HeadParts): Chunk[] {
  const [first, ...rest] = varying
  if (first !== undefined) return [slotOf(first, (edits) => styleLink(apply(style, edits).document, rest, parts))]
  const { css } = scopeStyle(rulesOf(style), style.id)
  return css === '' ? [] : [Buffer.from(`<link rel="stylesheet" href="${parts.keepStyle(css)}">`)]
}

function slotOf(varying: Varying, shown: (edits: Varying['versions'][number]['edits']) => Chunk[]): Slot {
  const original = joined(shown([]))
  return {
    key: varying.key,
    alternatives: new Map<string, readonly Chunk[]>([
      [UNCOUNTED, original],
      ...varying.versions.map(({ id, edits }): [string, readonly Chunk[]] => [id, joined(shown(edits))]),
    ]),
  }
}

export function styleAddressOf(css: string): string {
  return `/made/${createHash('sha256').update(css).digest('hex').slice(0, 24)}.css`
}
