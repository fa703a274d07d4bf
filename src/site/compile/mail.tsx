import { convert } from 'html-to-text'
import juice from 'juice'
import { renderToStaticMarkup } from 'react-dom/server'
import { propsOf } from '@/components/component-type'
import { callsIn } from '@/components/letter/calls'
import { letter as letterType } from '@/components/letter/fields'
import type { SiteView } from '@/components/look'
import { Part } from '@/components/part'
import { siteView, withDocuments } from '@/components/site-view'
import { nodeAt, type ContentDocument } from '@/core/document'
import { escaped } from '@/core/markup'

/** Stands for a recipient’s pass in a letter that is drawn once for many of them. */
export const PASS = 'pass-of-the-recipient'

export interface Mail {
  readonly html: string
  readonly words: string
}

interface Around {
  /** What the letter shows and links to; calls to action as this letter has them. */
  readonly documents: readonly ContentDocument[]
  /** Where the site is, without a slash at the end. */
  readonly origin: string
  /** The site’s style sheet. */
  readonly css: string
}

/**
 * A newsletter as it is sent: styles written onto each part, as mail programs need them; a call to action leads by way
 * of the site, which counts it, other links straight to their pages; a picture of one pixel tells that it was opened.
 * `PASS` stands where each recipient’s own pass goes.
 */
export function mailOf(letter: ContentDocument, { documents, origin, css }: Around): Mail {
  const { title, opening, campaign } = propsOf(letterType, nodeAt(letter, letter.root))
  const calls = callsIn(letter)
  const marks = marksOf(campaign)
  const followed = documents
    .filter(({ id, kind }) => kind === 'callToAction' && calls.includes(id))
    .map((call) => leadingTo(call, `${origin}/letter/follow?pass=${PASS}&call=${call.id}&${marks}`))
  const site = withDocuments(fromAfar(siteView([...documents, letter]), origin, marks), followed)
  // The renderer asks browsers to fetch pictures ahead; a mail program is none.
  const body = renderToStaticMarkup(<Part document={letter} node={letter.root} rendering={{ site }} />).replace(
    /<link rel="preload"[^>]*>/g,
    '',
  )
  const hidden = opening === '' ? '' : `<div style="display:none;max-height:0;overflow:hidden">${escaped(opening)}</div>`
  const pixel = `<img src="${escaped(`${origin}/letter/image?pass=${PASS}&calls=${calls.join('.')}`)}" width="1" height="1" alt="">`
  const page = `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>${escaped(title)}</title><meta name="viewport" content="width=device-width,initial-scale=1"></head><body>${hidden}${body}${pixel}</body></html>`
  return {
    html: juice.inlineContent(page, css, { resolveCSSVariables: true, preserveMediaQueries: false, removeStyleTags: true }),
    words: convert(hidden + body, {
      wordwrap: 76,
      selectors: [
        { selector: 'img', format: 'skip' },
        { selector: 'a', options: { hideLinkHrefIfSameAsText: true } },
      ],
    }),
  }
}

function leadingTo(call: ContentDocument, address: string): ContentDocument {
  const root = nodeAt(call, call.root)
  return { ...call, nodes: { ...call.nodes, [call.root]: { ...root, props: { ...root.props, link: address } } } }
}

/** The site as it is linked to from elsewhere: whole addresses, and marks that say where a visit came from. */
function fromAfar(site: SiteView, origin: string, marks: string): SiteView {
  return {
    ...site,
    addressOf(link) {
      const address = site.addressOf(link)
      if (!address.startsWith('/')) return address
      const [path = '', place] = address.split('#')
      return `${origin}${path}?${marks}${place === undefined ? '' : `#${place}`}`
    },
    pictureAddress: (name) => origin + site.pictureAddress(name),
    filmAddress: (name) => origin + site.filmAddress(name),
  }
}

function marksOf(campaign: string): string {
  const marks = { utm_source: 'newsletter', utm_medium: 'email', ...(campaign === '' ? {} : { utm_campaign: campaign }) }
  return new URLSearchParams(marks).toString()
}
