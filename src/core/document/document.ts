import * as z from 'zod'
import { documentIdSchema, idText, nodeIdSchema, type DocumentId, type NodeId } from '../ids'
import { NOT_INHERITED, own } from '../own'

/** What a property can hold: text, a number, yes or no, or a list of texts. */
export type PropValue = string | number | boolean | readonly string[]
export const propValueSchema: z.ZodType<PropValue> = z.union([
  z.string().max(20_000),
  z.number().finite(),
  z.boolean(),
  z.array(z.string().max(4000)).max(60),
])
export type Props = { readonly [prop: string]: PropValue }

export interface ContentNode {
  readonly type: string
  readonly props: Props
  readonly children: readonly NodeId[]
}

/** `shared`: a component that stands on many pages. `style`: a restyling of parts of many pages. `template`: a page to begin from. `letter`: a newsletter. */
export const documentKinds = ['page', 'menu', 'callToAction', 'shared', 'style', 'template', 'letter'] as const
export type DocumentKind = (typeof documentKinds)[number]

/**
 * Everything that can vary: a tree of nodes with stable ids. Ids never change and are never given to another node.
 * Immutable: a change is an `Edit`, and applying it makes a new document.
 */
export interface ContentDocument {
  readonly id: DocumentId
  readonly kind: DocumentKind
  readonly root: NodeId
  readonly nodes: { readonly [node: string]: ContentNode }
}

/** A cut-out of a document: some node and all below it. */
export interface Subtree {
  readonly root: NodeId
  readonly nodes: { readonly [node: string]: ContentNode }
}

/** The name of a property, or of a component type. */
export const propNameSchema = z
  .string()
  .regex(/^[a-z][a-zA-Z0-9]{0,39}$/, 'a name has 1 to 40 letters and digits and starts with a small letter')
  .regex(NOT_INHERITED, 'this word cannot be a name; choose another')

/** More than a page that anybody would look at has; what is larger could not be drawn, or read back, in time. */
export const MOST_CHILDREN = 500
const MOST_NODES = 3000
const DEEPEST = 40

const contentNodeSchema: z.ZodType<ContentNode> = z.object({
  type: propNameSchema,
  props: z.record(propNameSchema, propValueSchema),
  children: z.array(nodeIdSchema).max(MOST_CHILDREN, `a component holds at most ${MOST_CHILDREN} others; divide them`),
})

const nodesSchema = z
  .record(idText, contentNodeSchema)
  .refine((nodes) => Object.keys(nodes).length <= MOST_NODES, `a document has at most ${MOST_NODES} components; divide it`)

export const subtreeSchema: z.ZodType<Subtree> = z
  .object({ root: nodeIdSchema, nodes: nodesSchema })
  .superRefine((tree, context) => reportFaults(tree, context))

export const documentSchema: z.ZodType<ContentDocument> = z
  .object({ id: documentIdSchema, kind: z.enum(documentKinds), root: nodeIdSchema, nodes: nodesSchema })
  .superRefine((tree, context) => reportFaults(tree, context))

function reportFaults(tree: Subtree, context: z.RefinementCtx): void {
  const fault = treeFault(tree)
  if (fault !== null) context.addIssue({ code: 'custom', message: fault, path: ['nodes'] })
}

/** Why these nodes are not one tree below `root`, in words; `null` if they are. */
export function treeFault({ root, nodes }: Subtree): string | null {
  if (own(nodes, root) === undefined) return `the root “${root}” is missing`
  const met = new Set<NodeId>()
  const waiting: { id: NodeId; depth: number }[] = [{ id: root, depth: 1 }]
  for (let next = waiting.pop(); next !== undefined; next = waiting.pop()) {
    const { id, depth } = next
    if (met.has(id)) return `the component “${id}” stands in two places`
    if (depth > DEEPEST) return `the component “${id}” stands more than ${DEEPEST} components deep`
    met.add(id)
    const node = own(nodes, id)
    if (node === undefined) return `the component “${id}” is named as a part but missing`
    waiting.push(...node.children.map((child) => ({ id: child, depth: depth + 1 })))
  }
  const loose = Object.keys(nodes).length - met.size
  return loose === 0 ? null : `${loose} components are not part of the tree`
}

/** The parent of a node, or `null` for the root and for a node that is not there. */
export function parentOf({ nodes }: Subtree, node: NodeId): NodeId | null {
  let parents = parentsOf.get(nodes)
  if (parents === undefined) {
    parents = new Map()
    for (const [id, { children }] of Object.entries(nodes)) for (const child of children) parents.set(child, id as NodeId)
    parentsOf.set(nodes, parents)
  }
  return parents.get(node) ?? null
}

/** Found once for each document, which never changes; a page of n components asks n times. */
const parentsOf = new WeakMap<Subtree['nodes'], Map<NodeId, NodeId>>()

/** From the node's parent up to the root. */
export function ancestorsOf(tree: Subtree, node: NodeId): NodeId[] {
  const chain: NodeId[] = []
  for (let up = parentOf(tree, node); up !== null; up = parentOf(tree, up)) chain.push(up)
  return chain
}

/** The node and all below it, in reading order. */
export function walk(tree: Subtree, from: NodeId = tree.root): NodeId[] {
  const node = tree.nodes[from]
  return node === undefined ? [] : [from, ...node.children.flatMap((child) => walk(tree, child))]
}

export function subtree(tree: Subtree, root: NodeId): Subtree {
  const nodes: Record<NodeId, ContentNode> = {}
  for (const id of walk(tree, root)) nodes[id] = nodeAt(tree, id)
  return { root, nodes }
}

/** @throws {RangeError} where no such node is: for code that knows it is there. */
export function nodeAt(tree: Subtree, id: NodeId): ContentNode {
  const node = tree.nodes[id]
  if (node === undefined) throw new RangeError(`nodeAt: no component “${id}” below “${tree.root}”`)
  return node
}

/** The lowest node that holds all of these, itself included; the root if they have nothing else in common. */
export function commonAncestor(tree: Subtree, nodes: readonly NodeId[]): NodeId {
  const [first, ...rest] = nodes.map((node) => [node, ...ancestorsOf(tree, node)])
  return first?.find((candidate) => rest.every((chain) => chain.includes(candidate))) ?? tree.root
}
