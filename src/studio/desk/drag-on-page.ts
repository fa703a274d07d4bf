import { ancestorsOf, nodeAt, parentOf, type ContentDocument } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { mayHold, type Landing } from './landing'

interface Moving {
  document(): ContentDocument
  /** The part that can be taken hold of. */
  selected(): NodeId | null
  land(node: NodeId, landing: Landing): void
}

const FAR_ENOUGH = 6

/**
 * The selected part is dragged on the page itself, with pointer, pen or finger; a line shows where it would land. The
 * keyboard has its own way (Alt with the arrows), so nothing depends on dragging. @returns lets go of the page
 */
export function movePart(body: HTMLElement, moving: Moving): () => void {
  let start: { x: number; y: number; node: NodeId } | null = null
  let dragging = false
  let landing: Landing | null = null
  const clear = (attribute: string) =>
    body.querySelectorAll(`[${attribute}]`).forEach((element) => element.removeAttribute(attribute))

  const down = (event: PointerEvent) => {
    const node = moving.selected()
    const target = event.target as Element
    if (node === null || event.button !== 0 || target.closest('[contenteditable]')) return
    if (target.closest(`[data-n="${node}"]`) === null || parentOf(moving.document(), node) === null) return
    start = { x: event.clientX, y: event.clientY, node }
  }
  const moved = (event: PointerEvent) => {
    if (start === null) return
    if (!dragging && Math.hypot(event.clientX - start.x, event.clientY - start.y) < FAR_ENOUGH) return
    dragging = true
    event.preventDefault()
    body.querySelector(`[data-n="${start.node}"]`)?.setAttribute('data-dragged', '')
    clear('data-drop')
    const found = landingAt(
      moving.document(),
      start.node,
      body.ownerDocument.elementsFromPoint(event.clientX, event.clientY),
      event.clientY,
    )
    landing = found?.landing ?? null
    found?.element.setAttribute('data-drop', found.edge)
    const view = body.ownerDocument.documentElement
    if (event.clientY < 40) view.scrollBy(0, -24)
    else if (event.clientY > view.clientHeight - 40) view.scrollBy(0, 24)
  }
  const up = () => {
    const node = start?.node
    const target = landing
    const was = dragging
    start = null
    dragging = false
    landing = null
    clear('data-drop')
    clear('data-dragged')
    if (was && node !== undefined && target !== null) moving.land(node, target)
  }
  // The browser's own dragging of words, pictures and links would take the pointer away.
  const press = (event: MouseEvent) => {
    if (start === null) return
    event.preventDefault()
    body.ownerDocument.defaultView?.focus()
  }
  const refuse = (event: Event) => event.preventDefault()
  // A drag ends in a click, which is not meant to select anything.
  const click = (event: MouseEvent) => {
    if (dragging) event.stopPropagation()
  }
  body.addEventListener('pointerdown', down)
  body.addEventListener('mousedown', press)
  body.addEventListener('dragstart', refuse)
  body.addEventListener('pointermove', moved)
  body.addEventListener('pointerup', up)
  body.addEventListener('pointercancel', up)
  body.addEventListener('click', click, true)
  return () => {
    body.removeEventListener('pointerdown', down)
    body.removeEventListener('mousedown', press)
    body.removeEventListener('dragstart', refuse)
    body.removeEventListener('pointermove', moved)
    body.removeEventListener('pointerup', up)
    body.removeEventListener('pointercancel', up)
    body.removeEventListener('click', click, true)
  }
}

type Edge = 'before' | 'after' | 'inside'

/** The innermost place under the pointer that may take the part. */
function landingAt(
  document: ContentDocument,
  node: NodeId,
  under: readonly Element[],
  y: number,
): { landing: Landing; element: Element; edge: Edge } | null {
  for (const element of under) {
    const id = (element as HTMLElement).dataset?.n as NodeId | undefined
    const target = id === undefined ? undefined : document.nodes[id]
    if (id === undefined || target === undefined || id === node || ancestorsOf(document, id).includes(node)) continue
    if (target.children.length === 0 && mayHold(document, id, node))
      return { landing: { parent: id, after: null }, element, edge: 'inside' }
    const parent = parentOf(document, id)
    if (parent === null || !mayHold(document, parent, node)) continue
    const box = element.getBoundingClientRect()
    const before = y < box.top + box.height / 2
    const siblings = nodeAt(document, parent).children.filter((child) => child !== node)
    const at = siblings.indexOf(id)
    return {
      landing: { parent, after: before ? (siblings[at - 1] ?? null) : id },
      element,
      edge: before ? 'before' : 'after',
    }
  }
  return null
}
