import type { ContentDocument, ContentNode, Edit, Subtree } from '@/core/document'
import { apply, nodeAt } from '@/core/document'
import type { NodeId } from '@/core/ids'

/** A part with all that is in it, as a file has it: what is one tree cannot lack a part, nor hold one twice. */
export interface Branch {
  /** Kept where no other part has it; a part without one gets one. */
  readonly id?: string | undefined
  readonly type: string
  readonly props?: ContentNode['props'] | undefined
  readonly children?: readonly Branch[] | undefined
}

export function branchOf(tree: Subtree, id: NodeId = tree.root): Branch {
  const { type, props, children } = nodeAt(tree, id)
  return {
    id,
    type,
    ...(Object.keys(props).length === 0 ? {} : { props }),
    ...(children.length === 0 ? {} : { children: children.map((child) => branchOf(tree, child)) }),
  }
}

/** @param taken ids that are somewhere else already; those of this tree are added to them */
export function treeOf(branch: Branch, fresh: () => NodeId, taken = new Set<string>()): Subtree {
  const nodes: Record<string, ContentNode> = {}
  const put = ({ id, type, props = {}, children = [] }: Branch): NodeId => {
    const own = id === undefined || taken.has(id) ? fresh() : (id as NodeId)
    taken.add(own)
    nodes[own] = { type, props, children: children.map(put) }
    return own
  }
  return { root: put(branch), nodes }
}

/** An edit as a file has it: what it puts in is a branch. */
export type BranchEdit = Exclude<Edit, { kind: 'insert' }> | (Omit<Extract<Edit, { kind: 'insert' }>, 'tree'> & { tree: Branch })

export function branchEdits(edits: readonly Edit[]): BranchEdit[] {
  return edits.map((edit) => (edit.kind === 'insert' ? { ...edit, tree: branchOf(edit.tree) } : edit))
}

export function treeEdits(edits: readonly BranchEdit[], fresh: () => NodeId): Edit[] {
  const taken = new Set<string>()
  return edits.map((edit) => (edit.kind === 'insert' ? { ...edit, tree: treeOf(edit.tree, fresh, taken) } : edit))
}

/** The edits that find nothing to change, by their places in the list, counted from one. */
export function unfitEdits(document: ContentDocument, edits: readonly Edit[]): readonly { place: number; node: string }[] {
  return apply(document, edits).refused.map(({ edit }) => ({
    place: edits.indexOf(edit) + 1,
    node: 'node' in edit ? edit.node : edit.parent,
  }))
}
