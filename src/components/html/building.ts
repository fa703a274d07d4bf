import type { ContentNode, Props } from '@/core/document'
import type { OwnPages } from '@/core/formats'
import type { NodeId } from '@/core/ids'
import { shortened } from '@/core/text'
import { plainText, richText } from '../rich-text'
import type { Element } from './tree'

/** Notes beyond these say nothing new. */
const MOST_NOTES = 200
/** As long as a line, and a rich text, may be; see `component-type.ts`. */
const LONGEST_LINE = 2000
const LONGEST_TEXT = 20_000

/** What a page from elsewhere is compared with. */
export interface Around extends OwnPages {
  /** The calls to action and shared components that this site has. */
  readonly known: ReadonlySet<string>
}

/** The body of a page from elsewhere while it is taken. */
export interface Taking extends Building {
  readonly around: Around
  /** What its addresses are relative to. */
  readonly base: string
}

/** The sections of a page while they are being made from what was read, and what is to be said about it. */
export interface Building {
  /** A part at this place of the page. */
  add(type: string, props: Props, children?: readonly NodeId[]): void
  /** A part for another to hold. */
  make(type: string, props: Props, children?: readonly NodeId[]): NodeId
  /** Rich text; joined to the text before it. */
  addText(html: string): void
  /** One more in the part of this type that stands before it, or in a new one. */
  addWithin(type: string, child: NodeId): void
  /** What follows stands in a section of its own. */
  close(): void
  note(element: Element, words: string): void
  line(element: Element, words: string): string
  readonly sections: readonly NodeId[]
  readonly nodes: Readonly<Record<string, ContentNode>>
  notes(): readonly string[]
}

export function building(fresh: () => NodeId): Building {
  const nodes: Record<string, ContentNode> = {}
  const sections: NodeId[] = []
  const notes: { readonly line: number; readonly words: string }[] = []
  let open: NodeId[] = []

  const make = (type: string, props: Props, children: readonly NodeId[] = []): NodeId => {
    const id = fresh()
    nodes[id] = { type, props, children }
    return id
  }
  const before = (type: string): readonly [NodeId, ContentNode] | null => {
    const id = open.at(-1)
    const node = id === undefined ? undefined : nodes[id]
    return id === undefined || node?.type !== type ? null : [id, node]
  }
  return {
    make,
    add: (type, props, children = []) => void open.push(make(type, props, children)),
    addText(html) {
      const words = richText(html)
      if (plainText(words) === '') return
      const found = before('text')
      const whole = found === null ? words : `${String(found[1].props.words)}${words}`
      if (found !== null && whole.length <= LONGEST_TEXT) nodes[found[0]] = { ...found[1], props: { words: whole } }
      else open.push(make('text', { words }))
    },
    addWithin(type, child) {
      const found = before(type)
      if (found === null) open.push(make(type, {}, [child]))
      else nodes[found[0]] = { ...found[1], children: [...found[1].children, child] }
    },
    close() {
      if (open.length > 0) sections.push(make('section', {}, open))
      open = []
    },
    note: (element, words) => void notes.push({ line: element.sourceCodeLocation?.startLine ?? 0, words }),
    line(element, words) {
      if (words.length > LONGEST_LINE)
        this.note(element, `“${shortened(words, 60)}…” is longer than ${LONGEST_LINE} characters and was cut there.`)
      return shortened(words, LONGEST_LINE)
    },
    sections,
    nodes,
    notes() {
      const inOrder = [...notes].sort((one, other) => one.line - other.line)
      const said = inOrder.slice(0, MOST_NOTES).map(({ line, words }) => (line === 0 ? words : `Line ${line}: ${words}`))
      return inOrder.length > MOST_NOTES ? [...said, `And ${inOrder.length - MOST_NOTES} more.`] : said
    },
  }
}
