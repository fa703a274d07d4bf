'use client'

import { Button } from '../controls/button'
import { useMemo } from 'react'
import type { AccountView, DocumentView } from '@/contract/contract'
import { apply, nodeAt, parentOf, reachOf, type ContentDocument } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { previewOf } from '@/components/preview'
import { titleOf } from '@/components/references'
import { useDesk } from '../desk/desk'
import type { Landing } from '../desk/landing'
import { freshId } from '../desk/fresh-id'
import { PageFrame } from '../desk/page-frame'
import { TreeList } from '../desk/tree-list'
import { NodeFields, useWholeDesk, WholeDesk } from '../desk/whole-desk'
import { Note } from '../frame/screen'

/** A menu as a tree that can be taken in hand, above the header in which visitors see it. */
export function MenuDesk({ account, view, refetch }: { account: AccountView; view: DocumentView; refetch: () => void }) {
  const desk = useDesk(account, view, refetch)
  const { editing, state, shown, version, locked } = desk
  const whole = useWholeDesk(desk)
  const { document } = state
  const selected = state.selected === document.root ? null : state.selected
  const move = (node: NodeId, landing: Landing) => editing.edit([{ kind: 'move', node, ...landing }])
  const add = (below: NodeId) => {
    const node = freshId()
    editing.edit([
      {
        kind: 'insert',
        parent: below,
        after: nodeAt(shown, below).children.at(-1) ?? null,
        tree: { root: node, nodes: { [node]: { type: 'menuItem', props: { words: 'New item', link: '' }, children: [] } } },
      },
    ])
    editing.select(node)
  }
  const remove = (node: NodeId) => {
    editing.edit([{ kind: 'remove', node }])
    editing.select(null)
  }
  const { other, onKey: handleKey } = whole
  const changed = new Set(version === undefined ? [] : reachOf(document, version.edits))
  const added = new Set(version?.edits.flatMap((edit) => (edit.kind === 'insert' ? Object.keys(edit.tree.nodes) : [])) ?? [])
  const content = selected === null ? undefined : shown.nodes[selected]
  return (
    <WholeDesk
      account={account}
      whole={whole}
      kind="menu"
      stage={
        <div className="menu-stage">
          <div className={other === undefined ? 'menu-live' : 'menu-live both'}>
            {other === undefined ? null : (
              <HeaderFrame
                menu={document}
                surroundings={view.surroundings}
                label="The original menu in its header"
                onKey={handleKey}
              />
            )}
            <HeaderFrame
              menu={other === undefined ? shown : apply(document, other.edits).document}
              surroundings={view.surroundings}
              label="The menu in its header"
              onKey={handleKey}
            />
          </div>
          <section className="menu-tree" aria-label="Entries">
            <TreeList
              document={shown}
              label="Entries of the menu"
              selected={selected}
              select={editing.select}
              move={locked ? null : move}
              row={(id) => {
                const { words, link } = nodeAt(shown, id).props
                return (
                  <>
                    <span>{String(words ?? '')}</span>
                    <em>{destination(String(link ?? ''), view)}</em>
                    {added.has(id) ? <b>added</b> : changed.has(id) ? <b>≠</b> : null}
                  </>
                )
              }}
              onKey={(event, id) => {
                if (event.key === 'Delete' && !locked) remove(id)
              }}
            />
            <EntryTools
              {...{ locked, selected, add, remove }}
              root={document.root}
              words={content === undefined ? '…' : String(content.props.words ?? '')}
            />
            <p className="quiet">
              Drag up and down to order, to the right to put an entry below the one before it. By keyboard: Alt with the arrows.
            </p>
          </section>
        </div>
      }
      fields={
        selected === null || content === undefined ? (
          <Note title="Title">
            <NodeFields desk={desk} node={document.root} />
          </Note>
        ) : (
          <Note title={parentOf(shown, selected) === shown.root ? 'The entry' : 'The entry below'}>
            <NodeFields desk={desk} node={selected} />
          </Note>
        )
      }
    />
  )
}

function EntryTools({
  locked,
  root,
  selected,
  words,
  add,
  remove,
}: {
  locked: boolean
  root: NodeId
  selected: NodeId | null
  words: string
  add: (below: NodeId) => void
  remove: (node: NodeId) => void
}) {
  const none = locked || selected === null
  return (
    <div className="place-tools">
      <Button disabled={locked} onClick={() => add(root)}>
        Add an entry
      </Button>
      <Button disabled={none} onClick={() => selected !== null && add(selected)}>
        Add one below “{words}”
      </Button>
      <Button disabled={none} onClick={() => selected !== null && remove(selected)}>
        Remove
      </Button>
    </div>
  )
}

/** A menu in the header of the site, with its lower levels to be opened. */
function HeaderFrame({
  menu,
  surroundings,
  label,
  onKey,
}: {
  menu: ContentDocument
  surroundings: readonly ContentDocument[]
  label: string
  onKey: (event: KeyboardEvent) => void
}) {
  const header = useMemo(() => previewOf(menu, menu.root, []), [menu])
  const around = useMemo(() => [...surroundings, ...header.changed], [surroundings, header])
  return <PageFrame document={header.document} surroundings={around} width={1280} label={label} onKey={onKey} />
}

/** Where an entry leads, in words: a page’s title, or the address. */
function destination(link: string, view: DocumentView): string {
  if (link === '') return 'leads nowhere yet'
  if (!link.startsWith('page:')) return link
  const [page, place] = link.slice('page:'.length).split('#')
  const found = view.surroundings.find(({ id }) => id === page)
  const title = found === undefined ? 'a page that is gone' : titleOf(found)
  return place === undefined ? title : `${title}, at a place on it`
}
