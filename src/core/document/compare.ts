import type { NodeId } from '../ids'
import { walk, nodeAt, type ContentDocument, type ContentNode, type Props, type PropValue, type Subtree } from './document'
import { applyEdit } from './edit'
import { kindOf, type Edit } from './edits'

/**
 * The edits that turn `a` into `b`: `apply(a, compare(a, b)).document` equals `b`. Both must have the same root.
 * Short: siblings that only shifted are not moved (longest increasing run), and a new part is one insert with all below.
 *
 * Where two siblings changed places, either may be said to have moved: those in `moved` are, where that is as short.
 *
 * The tree of `b` is walked from the top, so that every parent already stands in its place when its children are put
 * into theirs, and no move can go inside itself; parts that are gone are removed last, when nothing that stays is in them.
 */
export function compare(a: ContentDocument, b: ContentDocument, moved: ReadonlySet<NodeId> = new Set()): Edit[] {
  if (a.root !== b.root) throw new RangeError(`compare: two documents with the roots “${a.root}” and “${b.root}”`)
  const edits: Edit[] = []
  let now = a
  const put = (edit: Edit) => {
    const outcome = applyEdit(now, edit)
    if (!outcome.applied) throw new RangeError(`compare: its own ${edit.kind} did not fit (${outcome.refusal})`)
    now = outcome.document
    edits.push(edit)
  }

  for (const parent of walk(b)) {
    const wanted = nodeAt(b, parent).children
    const settled = new Set(longestRun(wanted, nodeAt(now, parent).children, moved))
    wanted.forEach((child, index) => {
      const after = wanted[index - 1] ?? null
      if (now.nodes[child] === undefined) put({ kind: 'insert', parent, after, tree: newPart(a, b, child) })
      else if (a.nodes[child] !== undefined && !settled.has(child)) put({ kind: 'move', node: child, parent, after })
    })
  }
  for (const id of walk(a)) {
    if (b.nodes[id] === undefined && now.nodes[id] !== undefined) put({ kind: 'remove', node: id })
  }
  for (const id of walk(b)) {
    const [was, is] = [nodeAt(now, id), nodeAt(b, id)]
    if (was.type !== is.type) put({ kind: 'replace', node: id, type: is.type, props: is.props })
    else for (const edit of changedProps(id, was.props, is.props)) put(edit)
  }
  return edits
}

/** The new nodes at and below `root`; what stood in `a` before is moved in afterwards. */
function newPart(a: ContentDocument, b: ContentDocument, root: NodeId): Subtree {
  const nodes: Record<NodeId, ContentNode> = {}
  const take = (id: NodeId) => {
    const node = nodeAt(b, id)
    const children = node.children.filter((child) => a.nodes[child] === undefined)
    nodes[id] = { ...node, children }
    children.forEach(take)
  }
  take(root)
  return { root, nodes }
}

function changedProps(node: NodeId, was: Props, is: Props): Edit[] {
  const names = [...new Set([...Object.keys(was), ...Object.keys(is)])].sort()
  return names.flatMap((prop): Edit[] => {
    const value = is[prop]
    if (sameValue(was[prop], value)) return []
    return [value === undefined ? { kind: 'set', node, prop } : { kind: 'set', node, prop, value }]
  })
}

export function sameValue(a: PropValue | undefined, b: PropValue | undefined): boolean {
  return a === b || JSON.stringify(a) === JSON.stringify(b)
}

/** Of the wanted children, the most that already stand in this order, of as many the fewest `moved`. Quadratic is enough for siblings. */
function longestRun(wanted: readonly NodeId[], present: readonly NodeId[], moved: ReadonlySet<NodeId>): NodeId[] {
  const places = wanted.map((id) => present.indexOf(id))
  const lighter = 1 / (wanted.length + 1)
  const weigh = (index: number) => 1 - (moved.has(wanted[index] ?? ('' as NodeId)) ? lighter : 0)
  let best = { run: [] as number[], weight: 0 }
  const runs: (typeof best)[] = []
  places.forEach((place, index) => {
    if (place < 0) return
    const before = runs.reduce(
      (found, run, earlier) => (run.weight > found.weight && (places[earlier] ?? 0) < place ? run : found),
      { run: [] as number[], weight: 0 },
    )
    const longest = { run: [...before.run, index], weight: before.weight + weigh(index) }
    runs[index] = longest
    if (longest.weight > best.weight) best = longest
  })
  return best.run.map((index) => wanted[index]).filter((id) => id !== undefined)
}

/**
 * Do two edit lists touch the same property, part, or order of children? Lists that do not can be applied in either
 * order. The document is the one before both: it tells what a removed part held and where a moved one stood.
 */
export function collide(document: ContentDocument, ours: readonly Edit[], theirs: readonly Edit[]): boolean {
  const [left, right] = [ours, theirs].map((edits) => edits.flatMap((edit) => kindOf(edit).touches(document, edit)))
  return (left ?? []).some((one) => (right ?? []).some((other) => meet(one, other)))
}

function meet(one: string, other: string): boolean {
  if (one === other) return true
  const nodeOf = (key: string) => key.slice(0, key.indexOf('.'))
  const wide = (key: string) => key.endsWith('.*')
  return one.includes('.') && other.includes('.') && (wide(one) || wide(other)) && nodeOf(one) === nodeOf(other)
}
