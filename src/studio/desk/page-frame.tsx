'use client'

import {
  memo,
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
  type CSSProperties,
  type ReactNode,
  type RefObject,
} from 'react'
import { createPortal } from 'react-dom'
import { renderToStaticMarkup } from 'react-dom/server'
import { useStyleRules } from '#style-rules'
import type { ContentDocument, Edit, PropValue } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { Part, type Rendering } from '@/components/part'
import { useSiteIdentity } from '../frame/studio'
import { movePart } from './drag-on-page'
import type { Landing } from './landing'
import { beginWriting, type RichWriting } from './write-in-place'
import { MiniatureBody, miniatureOf, miniatureWidth } from '@/components/miniature'
import { siteView } from '@/components/site-view'
import { isFor, stylesByPart } from '@/components/style/reach'

/**
 * The site's own styles, and what shows where one is pointing. Nothing can run in here: the frame allows no script. Headings
 * and texts out of sight are not laid out: of a long page only what is looked at costs.
 */
const SHELL = `<!doctype html><html lang="en"><head><link rel="stylesheet" href="/look/site.css"><style>
html{scroll-behavior:auto}body{cursor:default}
.measure>.heading,.measure>.text{content-visibility:auto;contain-intrinsic-size:auto 4rem}
.pointable [data-n]{cursor:pointer}.pointable [data-n]:hover:not(:has([data-n]:hover)){outline:1px dashed #54305f;outline-offset:2px}
[data-chosen]{outline:2px solid #54305f!important;outline-offset:3px}
[data-differs]{outline:2px dashed #9a6a0b;outline-offset:4px}
[data-drop]{box-shadow:0 -4px 0 #9db53b!important}[data-drop=after]{box-shadow:0 4px 0 #9db53b!important}[data-drop=inside]{box-shadow:inset 0 0 0 4px #9db53b!important}
[data-dragged]{opacity:.45}.pointable [data-chosen]:not(.page){cursor:grab}
[contenteditable]{outline:2px solid #9db53b!important;outline-offset:4px;cursor:text}
.pointable .head nav ul ul{display:none}.skip{display:none}
</style></head><body></body></html>`

interface FrameProps {
  readonly document: ContentDocument
  readonly surroundings: readonly ContentDocument[]
  /** In CSS pixels of the page; the frame is scaled to fit where it stands. */
  readonly width: number
  readonly label: string
  readonly selected?: NodeId | null
  readonly select?: (node: NodeId) => void
  /** Parts of menus, calls to action and shared components can be selected too, not only the page’s own. */
  readonly anywhere?: boolean
  /** Words typed in place: `done` false while they are being typed. */
  readonly write?: (node: NodeId, prop: string, value: PropValue, done: boolean) => void
  /** Told of the editor of rich text while it is at work. */
  readonly rich?: (writing: RichWriting | null) => void
  /** A part was dragged to another place. */
  readonly move?: (node: NodeId, landing: Landing) => void
  readonly differs?: readonly NodeId[]
  readonly onKey?: (event: KeyboardEvent) => void
  /** A node whose words are to be edited in place as soon as they are there; changes with every request. */
  readonly writeIn?: { readonly node: NodeId; readonly request: number } | null
  /** The request has been taken up; a frame that is made later must not take it up again. */
  readonly tookUp?: () => void
  readonly onScroll?: (top: number) => void
  readonly scrollTop?: number
}

/** A page as the site shows it, live: selected by pointing, written in place. */
export function PageFrame(props: FrameProps) {
  const { document, surroundings, width, label, selected, differs, writeIn, scrollTop } = props
  const [body, setBody] = useState<HTMLElement | null>(null)
  const identity = useSiteIdentity()
  const [frozen, setFrozen] = useState<ContentDocument | null>(null)
  const shown = frozen ?? document
  // Of the page itself, looks ask only what its root says: while that stays, so does what surrounds each part.
  const root = shown.nodes[shown.root]
  const about = useMemo<ContentDocument>(
    () => ({
      id: shown.id,
      kind: shown.kind,
      root: shown.root,
      nodes: root === undefined ? {} : { [shown.root]: { ...root, children: [] } },
    }),
    [root, shown.root, shown.id, shown.kind],
  )
  const styles = useMemo(() => surroundings.filter((one) => one.kind === 'style' && isFor(one, about)), [surroundings, about])
  const rules = useStyleRules(styles)
  const rendering = useMemo(
    () => ({ styled: stylesByPart(styles), site: siteView([...surroundings, about], { identity }) }),
    [identity, surroundings, about, styles],
  )
  const handlers = useRef(props)
  useLayoutEffect(() => {
    handlers.current = props
  })

  useHands(body, handlers, setFrozen)

  useEffect(() => {
    mark(body, 'data-chosen', selected == null ? [] : [selected])
    mark(body, 'data-differs', differs ?? [])
  }, [body, selected, differs, shown])

  useBroughtIntoView(body, selected ?? null)

  useEffect(() => {
    if (body !== null && scrollTop !== undefined) body.ownerDocument.documentElement.scrollTo({ top: scrollTop })
  }, [body, scrollTop])

  useWritingWhereAsked(body, writeIn ?? null, handlers, setFrozen)

  // What the server drew goes in the same moment in which the live page comes.
  const live = body !== null && rules !== null
  useLayoutEffect(() => {
    if (live) body.querySelector('[data-first]')?.remove()
  }, [body, live])

  return (
    <ScaledFrame width={width} label={label} onBody={setBody} first={drawnFirst(shown, rendering, rules)}>
      {!live
        ? null
        : createPortal(
            <>
              <style>{rules}</style>
              <Part document={shown} node={shown.root} rendering={rendering} />
            </>,
            body,
          )}
    </ScaledFrame>
  )
}

type Handlers = RefObject<FrameProps>
type Freeze = (document: ContentDocument | null) => void

/** Pointing, writing, dragging and keys within the page. */
function useHands(body: HTMLElement | null, handlers: Handlers, freeze: Freeze): void {
  useEffect(() => {
    if (body === null) return
    body.classList.toggle('pointable', handlers.current.select !== undefined)
    const nodeAt = (target: EventTarget | null): NodeId | null => {
      for (
        let at = elementOf(target)?.closest<HTMLElement>('[data-n]') ?? null;
        at !== null;
        at = at.parentElement?.closest<HTMLElement>('[data-n]') ?? null
      ) {
        const id = at.dataset.n as NodeId
        const { document: own, surroundings: others, anywhere } = handlers.current
        if (own.nodes[id] !== undefined || (anywhere && others.some(({ nodes }) => nodes[id] !== undefined))) return id
      }
      return null
    }
    const click = (event: MouseEvent) => {
      if (elementOf(event.target)?.closest('[contenteditable]')) return
      event.preventDefault()
      const node = nodeAt(event.target)
      if (node !== null) handlers.current.select?.(node)
    }
    const refuse = (event: Event) => event.preventDefault()
    const startWriting = (event: MouseEvent) => {
      const field = elementOf(event.target)?.closest<HTMLElement>('[data-f]')
      const node = nodeAt(event.target)
      if (field && node !== null && handlers.current.write)
        beginWriting(field, node, handlers.current.document, {
          freeze,
          write: handlers.current.write,
          rich: (writing) => handlers.current.rich?.(writing),
        })
    }
    const key = (event: KeyboardEvent) => {
      if (!elementOf(event.target)?.closest('[contenteditable]')) handlers.current.onKey?.(event)
    }
    const letGo = movePart(body, {
      document: () => handlers.current.document,
      selected: () => (handlers.current.move === undefined ? null : (handlers.current.selected ?? null)),
      land: (node, landing) => handlers.current.move?.(node, landing),
    })
    const view = body.ownerDocument
    const scrolled = () => handlers.current.onScroll?.(view.documentElement.scrollTop)
    body.addEventListener('click', click, true)
    body.addEventListener('dblclick', startWriting)
    body.addEventListener('submit', refuse)
    view.addEventListener('keydown', key)
    view.addEventListener('scroll', scrolled)
    return () => {
      letGo()
      body.removeEventListener('click', click, true)
      body.removeEventListener('dblclick', startWriting)
      body.removeEventListener('submit', refuse)
      view.removeEventListener('keydown', key)
      view.removeEventListener('scroll', scrolled)
    }
  }, [body, handlers, freeze])
}

function useBroughtIntoView(body: HTMLElement | null, selected: NodeId | null): void {
  useEffect(() => {
    if (body === null || selected === null) return
    const bringIntoView = () => {
      const view = body.ownerDocument.documentElement
      const box = body.querySelector(`[data-n="${selected}"]`)?.getBoundingClientRect()
      const hidden =
        box !== undefined &&
        (box.top < 0 || box.bottom > view.clientHeight) &&
        (box.bottom < 80 || box.top > view.clientHeight - 120)
      if (hidden) view.scrollBy({ top: box.top - view.clientHeight / 3 })
    }
    bringIntoView()
    // The shelf opens under the page when something is selected: look again when the page has found its new height.
    const again = window.setTimeout(bringIntoView, 300)
    return () => window.clearTimeout(again)
  }, [body, selected])
}

/** Words are written as soon as they are there, where that was asked for. */
function useWritingWhereAsked(
  body: HTMLElement | null,
  writeIn: NonNullable<FrameProps['writeIn']> | null,
  handlers: Handlers,
  freeze: Freeze,
): void {
  useEffect(() => {
    if (body === null || writeIn === null || !handlers.current.write) return
    const part = body.querySelector<HTMLElement>(`[data-n="${writeIn.node}"]`)
    const field = part?.matches('[data-f]') ? part : part?.querySelector<HTMLElement>('[data-f]')
    handlers.current.tookUp?.()
    // Of a part that holds others, the first words in it are written.
    const owner = field?.closest<HTMLElement>('[data-n]')?.dataset.n as NodeId | undefined
    if (field && owner !== undefined) {
      beginWriting(field, owner, handlers.current.document, {
        freeze,
        write: handlers.current.write,
        rich: (writing) => handlers.current.rich?.(writing),
      })
    }
  }, [body, writeIn, handlers, freeze])
}

/** A part alone with some edits, small; it looks the same as on the site because it is the same code. */
export const PageMiniature = memo(function PageMiniature({
  document,
  node,
  edits,
  surroundings,
  label,
}: {
  document: ContentDocument
  node: NodeId
  edits: readonly Edit[]
  surroundings: readonly ContentDocument[]
  label: string
}) {
  const identity = useSiteIdentity()
  const [body, setBody] = useState<HTMLElement | null>(null)
  const miniature = useMemo(
    () => miniatureOf({ document, node, edits, surroundings, identity }),
    [document, node, edits, surroundings, identity],
  )
  const rules = useStyleRules(miniature.styles)
  const styled = useMemo(() => stylesByPart(miniature.styles), [miniature])
  const width = useMemo(() => miniatureWidth(document, node, edits), [document, node, edits])
  return (
    <ScaledFrame width={width} label={`Miniature of ${label}`} onBody={setBody} still>
      {body === null ? null : createPortal(<MiniatureBody of={miniature} rules={rules} styled={styled} />, body)}
    </ScaledFrame>
  )
})

/** A frame as wide as a page is, made smaller by its style until it fits where it stands. */
function ScaledFrame({
  width,
  label,
  onBody,
  still,
  first = '',
  children,
}: {
  width: number
  label: string
  onBody: (body: HTMLElement) => void
  still?: boolean
  /** What the server draws into it, to be seen until the browser has taken over. */
  first?: string
  children: ReactNode
}) {
  const frame = useRef<HTMLIFrameElement>(null)
  // A frame drawn by the server can have been read before anything here listened.
  useLayoutEffect(() => {
    const inside = frame.current?.contentDocument
    if (inside?.readyState === 'complete' && inside.querySelector('link') !== null) onBody(inside.body)
  }, [onBody])
  return (
    <div className={still ? 'scaled still' : 'scaled'}>
      <iframe
        ref={frame}
        title={label}
        sandbox="allow-same-origin"
        srcDoc={SHELL.replace('<body>', `<body>${first}`)}
        suppressHydrationWarning
        tabIndex={still ? -1 : 0}
        aria-hidden={still}
        onLoad={({ currentTarget }) => currentTarget.contentDocument && onBody(currentTarget.contentDocument.body)}
        style={{ '--page': `${width}px` } as CSSProperties}
      />
      {children}
    </div>
  )
}

/** The same page as markup, while the server draws: there it is read before the code that keeps it live. */
function drawnFirst(document: ContentDocument, rendering: Rendering, rules: string | null): string {
  if (typeof window !== 'undefined') return ''
  const page = <Part document={document} node={document.root} rendering={rendering} />
  return renderToStaticMarkup(
    <div data-first style={{ display: 'contents' }}>
      <style>{rules}</style>
      {page}
    </div>,
  )
}

function mark(body: HTMLElement | null, attribute: string, nodes: readonly NodeId[]): void {
  body?.querySelectorAll(`[${attribute}]`).forEach((element) => element.removeAttribute(attribute))
  for (const node of nodes) body?.querySelector(`[data-n="${node}"]`)?.setAttribute(attribute, '')
}

/** Elements of the frame belong to another window, so `instanceof` does not know them. */
function elementOf(target: EventTarget | null): Element | null {
  const node = target as Node | null
  return node === null ? null : node.nodeType === 1 ? (node as Element) : node.parentElement
}
