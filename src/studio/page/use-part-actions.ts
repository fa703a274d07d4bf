import { nodeAt, parentOf, subtree, walk, withFreshIds, type Subtree } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { starterOf } from '@/components/starters'
import { keepCopy, readCopy } from '../desk/clipboard'
import type { Desk } from '../desk/desk'
import { freshId } from '../desk/fresh-id'
import { landingByKey, type Landing } from '../desk/landing'
import { useMessages } from '../frame/messages'
import { placeFor } from './palette'

/** What can be done with the parts of a page: by pointing, from the palette and by key alike. */
export function usePartActions(desk: Desk) {
  const message = useMessages()
  const { editing, state, shown, version } = desk

  const refuseLocked = () =>
    desk.locked ? void message.info('This version is in a test that runs. Pause the test to change it.') : undefined
  const add = (type: string, landing: Landing) => {
    if (desk.locked) return refuseLocked()
    const tree = starterOf(type, freshId)
    editing.edit([{ kind: 'insert', ...landing, tree }])
    editing.select(tree.root)
  }
  const move = (node: NodeId, landing: Landing) => {
    if (desk.locked) return refuseLocked()
    editing.edit([{ kind: 'move', node, ...landing }])
  }
  const copyAt = (node: NodeId, landing: Landing, from: Subtree) => {
    if (desk.locked) return refuseLocked()
    const tree = withFreshIds(from, freshId)
    editing.edit([{ kind: 'insert', ...landing, tree }])
    editing.select(tree.root)
    return node
  }
  const duplicate = (node: NodeId) => {
    const parent = parentOf(shown, node)
    if (parent !== null) copyAt(node, { parent, after: node }, subtree(shown, node))
  }
  const copy = () => {
    if (state.selected === null || shown.nodes[state.selected] === undefined || state.selected === shown.root) return
    keepCopy(subtree(shown, state.selected))
    void message.info('Copied. Paste it here or on another page with Ctrl+V.')
  }
  const paste = () => {
    const tree = readCopy()
    if (tree === null) return void message.info('Nothing has been copied yet: select a part and press Ctrl+C.')
    const landing = placeFor(shown, state.selected, tree.nodes[tree.root]?.type ?? '')
    if (landing === null) return void message.info('There is no place for it here. Select where it should go first.')
    copyAt(tree.root, landing, tree)
  }
  const remove = () => {
    if (state.selected === null || state.selected === shown.root || nodeAt(shown, shown.root).children.includes(state.selected))
      return
    if (desk.locked) return refuseLocked()
    editing.edit([{ kind: 'remove', node: state.selected }])
    if (version === undefined) editing.select(null)
  }
  const walkTo = (direction: 'next' | 'before' | 'out' | 'in') => {
    const { selected } = editing.store.getState()
    const order = walk(shown)
    if (selected === null) return editing.select(order[0] ?? null)
    const at = order.indexOf(selected)
    const target = {
      next: order[at + 1],
      before: order[at - 1],
      out: parentOf(shown, selected),
      in: shown.nodes[selected]?.children[0],
    }[direction]
    if (target) editing.select(target)
  }
  const moveByKey = (key: string) => {
    const { selected } = editing.store.getState()
    const landing = selected === null ? null : landingByKey(shown, selected, key)
    if (selected !== null && landing !== null) move(selected, landing)
  }
  return { add, move, duplicate, copy, paste, remove, walkTo, moveByKey }
}

export type PartActions = ReturnType<typeof usePartActions>
