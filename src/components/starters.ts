import type { ContentNode, Props, Subtree } from '@/core/document'
import type { NodeId } from '@/core/ids'
import type { Starter } from './component-type'
import { componentTypes } from './types'

/** A new component of a type with what it begins with. `fresh` must never give an id twice. */
export function starterOf(type: string, fresh: () => NodeId, props: Props = {}): Subtree {
  const nodes: Record<string, ContentNode> = {}
  const put = ([name, own, below = componentTypes.get(name)?.begins ?? []]: Starter): NodeId => {
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
  if (source !== null && target !== null && kept[target] === undefined) {
    const words = to.fields[target]?.schema.safeParse(node.props[source])
    if (words?.success && words.data !== undefined) kept[target] = words.data
  }
  return { ...fallbacks(type), ...kept }
}
