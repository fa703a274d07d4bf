import { renderToStaticMarkup } from 'react-dom/server'
import { miniatureOf, MiniatureBody, type PartAlone } from './miniature'
import { rulesOf, stylesByPart } from './style/reach'
import { scopeStyle } from './style/scope'

/** A page of its own that shows a part alone: by the code that draws the site, so it looks the same as there. */
export function drawMiniature(part: PartAlone): string {
  const miniature = miniatureOf(part)
  const rules = miniature.styles.map((one) => scopeStyle(rulesOf(one), one.id).css).join('\n')
  const body = renderToStaticMarkup(<MiniatureBody of={miniature} rules={rules} styled={stylesByPart(miniature.styles)} />)
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Miniature</title><link rel="stylesheet" href="/look/site.css"><style>.skip{display:none}</style></head><body>${body}</body></html>`
}
