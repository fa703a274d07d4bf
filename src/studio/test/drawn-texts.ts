import type { DrawnText, Paint } from '@/core/experiment'

const MOST_TEXTS = 2000
const passedOver = 'script, style, noscript, template'

/** The words of a page as this browser has drawn them. */
export function drawnTexts(page: Document): DrawnText[] {
  const view = page.defaultView
  if (view === null) return []
  const walker = page.createTreeWalker(page.body, view.NodeFilter.SHOW_TEXT)
  const found: DrawnText[] = []
  for (let node = walker.nextNode(); node !== null && found.length < MOST_TEXTS; node = walker.nextNode()) {
    const words = node.textContent?.replace(/\s+/g, ' ').trim() ?? ''
    const holder = node.parentElement
    if (words === '' || holder === null || holder.closest(passedOver) !== null) continue
    const text = drawnText(page, view, node, holder, words)
    if (text !== null) found.push(text)
  }
  return found
}

const MOST_ELEMENTS = 3000
/** What makes an element look as it does, beside where it is and what it says. */
const looks = [
  ...['color', 'background-color', 'background-image', 'opacity', 'box-shadow', 'filter', 'transform', 'visibility'],
  ...['border-color', 'border-style', 'border-width', 'border-radius', 'outline-style', 'outline-width', 'outline-color'],
  ...[
    'font-family',
    'font-size',
    'font-style',
    'font-weight',
    'letter-spacing',
    'text-decoration',
    'text-transform',
    'text-shadow',
  ],
]

/** How a page looks in this browser: of the same words in the same look, the same text. */
export function lookOf(page: Document): string {
  const view = page.defaultView
  if (view === null) return ''
  return [...page.body.querySelectorAll('*')]
    .slice(0, MOST_ELEMENTS)
    .filter((element) => !element.matches(passedOver))
    .map((element) => {
      const { left, top, width, height } = element.getBoundingClientRect()
      const drawn = [null, '::before', '::after'].map((part) => {
        const style = view.getComputedStyle(element, part)
        const content = part === null ? '' : style.content
        return content === 'none' ? '' : [content, ...looks.map((name) => style.getPropertyValue(name))].join(';')
      })
      return [element.tagName, left, top, width, height, ...drawn].join(' ')
    })
    .join('\n')
}

type View = NonNullable<Document['defaultView']>

/** @returns `null` where nobody sees it */
function drawnText(page: Document, view: View, node: Node, holder: Element, words: string): DrawnText | null {
  const range = page.createRange()
  range.selectNodeContents(node)
  const box = range.getBoundingClientRect()
  const [line] = range.getClientRects()
  const style = view.getComputedStyle(holder)
  if (line === undefined || box.width < 1 || style.visibility !== 'visible') return null
  const within = heldWithin(view, holder, box)
  const opacity = opacityOf(view, holder)
  const colour = paintIn(style.color)
  if (within === null || opacity === 0) return null
  const [left, right] = within.scrolls ? [0, 0] : [box.left + view.scrollX, box.right + view.scrollX]
  return {
    ...{ words, left, right, top: box.top + view.scrollY, cut: within.cut },
    size: parseFloat(style.fontSize),
    bold: Number(style.fontWeight) >= 700,
    colour: { ...(colour ?? black), covers: (colour?.covers ?? 1) * opacity },
    behind: colour === null ? null : behindIt(page, view, holder, line),
  }
}

const black: Paint = { red: 0, green: 0, blue: 0, covers: 1 }

/** What of it those that hold it cut off, unless one of them scrolls; `null` where they hide it for good, as words for the ear are. */
function heldWithin(view: View, holder: Element, box: DOMRect): { cut: number; scrolls: boolean } | null {
  let cut = 0
  for (let element: Element | null = holder; element !== null && element.tagName !== 'HTML'; element = element.parentElement) {
    const { overflowX, overflowY, clipPath } = view.getComputedStyle(element)
    const edge = element.getBoundingClientRect()
    const hides = [overflowX, overflowY].some((one) => one === 'hidden' || one === 'clip')
    if ((hides && (edge.width <= 2 || edge.height <= 2)) || clipPath.startsWith('inset(50%')) return null
    if (overflowX === 'auto' || overflowX === 'scroll') return { cut, scrolls: true }
    if (overflowX === 'hidden' || overflowX === 'clip') cut = Math.max(cut, box.right - edge.right, edge.left - box.left)
    if (overflowY === 'hidden' || overflowY === 'clip') cut = Math.max(cut, box.bottom - edge.bottom, edge.top - box.top)
  }
  return { cut, scrolls: false }
}

function opacityOf(view: View, holder: Element): number {
  let opacity = 1
  for (let element: Element | null = holder; element !== null; element = element.parentElement)
    opacity *= Number(view.getComputedStyle(element).opacity)
  return opacity
}

/** Everything below the words where they begin, down to what nothing shines through; `null` where a picture is among it. */
function behindIt(page: Document, view: View, holder: Element, line: DOMRect): Paint[] | null {
  const stack = page.elementsFromPoint(line.left + Math.min(line.width / 2, 20), line.top + line.height / 2)
  const from = stack.indexOf(holder)
  const below = from >= 0 ? stack.slice(from) : chainOf(holder)
  const paints: Paint[] = []
  for (const element of below) {
    const { backgroundColor, backgroundImage } = view.getComputedStyle(element)
    if (element.matches('img, video, canvas, svg, picture, iframe')) return null
    const paint = paintIn(backgroundColor)
    if (paint === null || backgroundImage !== 'none') return null
    if (paint.covers > 0) paints.push(paint)
    if (paint.covers === 1) break
  }
  return paints
}

function chainOf(holder: Element): Element[] {
  const chain: Element[] = []
  for (let element: Element | null = holder; element !== null; element = element.parentElement) chain.push(element)
  return chain
}

/** A colour as browsers compute it (CSS Color 4, serialising sRGB values); `null` of another space. */
export function paintIn(computed: string): Paint | null {
  const numbers = [...computed.matchAll(/-?[\d.]+(?:e-?\d+)?/g)].map(([number]) => Number(number))
  const [red = 0, green = 0, blue = 0, covers = 1] = numbers
  if (/^rgba?\(/.test(computed)) return { red, green, blue, covers }
  if (computed.startsWith('color(srgb ')) return { red: red * 255, green: green * 255, blue: blue * 255, covers }
  return null
}
