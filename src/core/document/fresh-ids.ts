import type { NodeId } from '../ids'
import { nodeAt, walk, type ContentNode, type Props, type Subtree } from './document'

/**
 * The same parts under ids of their own, so that both can stand on one site. Links to a place inside the copy lead to
 * the copy's own place. `fresh` must never give an id twice.
 */
export function withFreshIds(tree: Subtree, fresh: () => NodeId): Subtree {
  const names = new Map(walk(tree).map((id) => [id, fresh()]))
  const nodes: Record<string, ContentNode> = {}
  for (const [id, name] of names) {
    const node = nodeAt(tree, id)
    nodes[name] = {
      ...node,
      props: relinked(node.props, names),
      children: node.children.flatMap((child) => names.get(child) ?? []),
    }
  }
  return { root: names.get(tree.root) ?? tree.root, nodes }
}

function relinked(props: Props, names: ReadonlyMap<string, NodeId>): Props {
  const follow = (text: string) => text.replace(/^#([a-z0-9-]+)$/, (_, place: string) => `#${names.get(place) ?? place}`)
  return Object.fromEntries(
    Object.entries(props).map(([name, value]) => [name, typeof value === 'string' ? follow(value) : value]),
  )
}
