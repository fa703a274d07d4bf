import type { ContentNode, Props, Subtree } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { componentTypes } from './types'

type Starter = readonly [type: string, props: Props, inside?: readonly Starter[]]

/** What a container begins with, so that it can be seen and written over. */
const inside: Readonly<Record<string, readonly Starter[]>> = {
  section: [
    ['heading', { words: 'A new section' }],
    ['text', {}],
  ],
  columns: [
    [
      'column',
      {},
      [
        ['heading', { words: 'On one side', level: 'h3', size: 'medium' }],
        ['text', {}],
      ],
    ],
    [
      'column',
      {},
      [
        ['heading', { words: 'On the other', level: 'h3', size: 'medium' }],
        ['text', {}],
      ],
    ],
  ],
  column: [['text', {}]],
  cardList: [
    ['card', { title: 'One' }],
    ['card', { title: 'Two' }],
    ['card', { title: 'Three' }],
  ],
  gallery: [
    ['galleryPicture', {}],
    ['galleryPicture', {}],
    ['galleryPicture', {}],
  ],
  accordion: [
    ['accordionItem', { title: 'A first question' }],
    ['accordionItem', { title: 'A second question' }],
  ],
  tabs: [
    ['tab', { title: 'First' }],
    ['tab', { title: 'Second' }],
  ],
  steps: [
    ['step', { title: 'First' }],
    ['step', { title: 'Then' }],
    ['step', { title: 'Done' }],
  ],
  planTable: [
    ['plan', { title: 'Small' }],
    ['plan', { title: 'Large', favoured: true }],
  ],
  form: [
    ['formField', { label: 'Your name', name: 'name' }],
    ['formField', { label: 'E-mail', name: 'email', kind: 'email' }],
  ],
  menuItem: [],
}

/** A new component of a type with what it begins with. `fresh` must never give an id twice. */
export function starterOf(type: string, fresh: () => NodeId, props: Props = {}): Subtree {
  const nodes: Record<string, ContentNode> = {}
  const put = ([name, own, below = inside[name] ?? []]: Starter): NodeId => {
    const id = fresh()
    nodes[id] = { type: name, props: { ...fallbacks(name), ...own }, children: below.map(put) }
    return id
  }
  return { root: put([type, props]), nodes }
}

/** The words that a new component shows are its own from the beginning, so that they can be changed. */
function fallbacks(type: string): Props {
  const fields = Object.entries(componentTypes.get(type)?.fields ?? {})
  return Object.fromEntries(
    fields.flatMap(([name, { control, fallback }]) =>
      ['line', 'lines', 'rich'].includes(control) && fallback !== '' ? [[name, fallback] as const] : [],
    ),
  )
}

/** The properties that a component keeps when it is turned into another type: those both have, and its words. */
export function turnedInto(type: string, node: ContentNode): Props {
  const [from, to] = [componentTypes.get(node.type), componentTypes.get(type)]
  if (from === undefined || to === undefined) return {}
  const shared = Object.entries(node.props).filter(([name, value]) => to.fields[name]?.schema.safeParse(value).success)
  const kept: Record<string, Props[string]> = Object.fromEntries(shared)
  const [source, target] = [from.excerpt, to.excerpt]
  if (source !== undefined && target !== undefined && kept[target] === undefined) {
    const words = to.fields[target]?.schema.safeParse(node.props[source])
    if (words?.success && words.data !== undefined) kept[target] = words.data
  }
  return { ...fallbacks(type), ...kept }
}
