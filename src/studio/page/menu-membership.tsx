'use client'

import { Check } from '../controls/choices'
import { nodeAt, walk, type ContentDocument } from '@/core/document'
import { titleOf } from '@/components/references'
import { useMessages } from '../frame/messages'
import { freshId } from '../desk/fresh-id'
import { talk, useTell } from '../talk'

/** In which menus a page stands. Putting it in adds an entry at the end of the menu’s draft; the menu is published by itself. */
export function MenuMembership({ page, surroundings }: { page: ContentDocument; surroundings: readonly ContentDocument[] }) {
  const message = useMessages()
  const edit = useTell('document.edit', () => void message.success('Kept in the menu’s draft. Publish the menu to show it.'))
  const menus = surroundings.filter(({ kind }) => kind === 'menu')
  if (menus.length === 0) return null
  const link = `page:${page.id}`
  const entries = (menu: ContentDocument) => walk(menu).filter((id) => nodeAt(menu, id).props.link === link)
  const toggle = async (menu: ContentDocument, member: boolean) => {
    const { document, lock } = await talk('document.open', { document: menu.id })
    const node = freshId()
    edit.mutate(
      {
        document: menu.id,
        base: lock,
        edits: member
          ? [
              {
                kind: 'insert',
                parent: document.root,
                after: nodeAt(document, document.root).children.at(-1) ?? null,
                tree: {
                  root: node,
                  nodes: { [node]: { type: 'menuItem', props: { words: titleOf(page).slice(0, 60), link }, children: [] } },
                },
              },
            ]
          : entries(document).map((gone) => ({ kind: 'remove' as const, node: gone })),
      },
      { onError: (reason) => void message.error(reason.message, 8) },
    )
  }
  return (
    <fieldset className="menu-membership">
      <legend>In the menus</legend>
      {menus.map((menu) => (
        <Check
          key={menu.id}
          checked={entries(menu).length > 0}
          disabled={edit.isPending}
          change={(checked) => void toggle(menu, checked)}
        >
          {titleOf(menu)}
        </Check>
      ))}
    </fieldset>
  )
}
