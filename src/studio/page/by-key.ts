import type { NodeId } from '@/core/ids'
import { deskCommands, type Desk } from '../desk/desk'
import type { Command } from '../frame/finder'
import type { KeyLines } from '../frame/key-list'
import { useKeys } from '../frame/use-keys'
import type { PartActions } from './use-part-actions'

export const widths = [
  { value: 390, label: 'Narrow' },
  { value: 834, label: 'Middle' },
  { value: 1280, label: 'Wide' },
] as const

/** How the page is looked at. */
export interface PageView {
  readonly width: (width: number) => void
  readonly outline: boolean
  readonly setOutline: (open: boolean) => void
  /** Two versions stand side by side. */
  readonly besides: boolean
  readonly setSideBySide: () => void
}

export function usePageKeys(
  desk: Desk,
  parts: PartActions,
  page: PageView,
  { write, leave }: { write: (node: NodeId) => void; leave: () => void },
) {
  const { editing, state } = desk
  return useKeys({
    plain: {
      ArrowDown: () => parts.walkTo('next'),
      ArrowUp: () => parts.walkTo('before'),
      ArrowLeft: () => parts.walkTo('out'),
      ArrowRight: () => parts.walkTo('in'),
      Enter: () => state.selected !== null && write(state.selected),
      Escape: leave,
      Delete: parts.remove,
      v: () => desk.make('chance', null),
      ',': () => desk.stepAlong(-1),
      '.': () => desk.stepAlong(1),
      ';': page.setSideBySide,
      '1': () => page.width(390),
      '2': () => page.width(834),
      '3': () => page.width(1280),
      o: () => page.setOutline(!page.outline),
    },
    withAlt: Object.fromEntries(
      ['ArrowUp', 'ArrowDown', 'ArrowLeft', 'ArrowRight'].map((key) => [key, () => parts.moveByKey(key)]),
    ),
    withControl: {
      z: (shift) => (shift ? editing.redo() : editing.undo()),
      y: editing.redo,
      s: () => void desk.askToPublish(),
      c: parts.copy,
      v: parts.paste,
      d: () => state.selected !== null && parts.duplicate(state.selected),
    },
  })
}

/** The same by name, with the key that does it. */
export function pageCommands(desk: Desk, page: PageView): Command[] {
  return [
    ...deskCommands(desk),
    { name: 'Make a variant of what is selected', keys: 'v', run: () => desk.make('chance', null) },
    {
      name: !page.besides ? 'Set two versions side by side' : 'Set the version alone again',
      keys: ';',
      run: page.setSideBySide,
    },
    { name: page.outline ? 'Close the outline' : 'Open the outline', keys: 'o', run: () => page.setOutline(!page.outline) },
    ...widths.map(({ value, label }, index) => ({
      name: `Show the page ${label.toLowerCase()}`,
      keys: String(index + 1),
      run: () => page.width(value),
    })),
  ]
}

export const keyLines: KeyLines = [
  ['Arrows', 'walk the structure: down and up in reading order, left out of a part, right into it'],
  ['Alt with the arrows', 'move the selected part: up and down among its siblings, left out of its parent'],
  ['Enter', 'write the selected words on the page; Enter again or Escape ends it'],
  ['v', 'make a variant of what is selected'],
  [', and .', 'step along the shelf'],
  [';', 'set two versions side by side'],
  ['1 2 3', 'narrow, middle, wide'],
  ['o', 'outline'],
  ['Ctrl+C, Ctrl+V, Ctrl+D', 'copy a part, paste it here or on another page, duplicate it'],
  ['Delete', 'remove a part, or hide it in a version'],
  ['Ctrl+Z, Ctrl+Shift+Z', 'undo, redo'],
  ['Ctrl+S', 'publish, after asking'],
  ['Escape', 'end writing, then select nothing'],
]
