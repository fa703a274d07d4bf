'use client'

import { Button } from 'antd'
import { useMemo } from 'react'
import type { AccountView, DocumentView } from '@/contract/contract'
import { apply, nodeAt, parentOf, reachOf, type ContentDocument, type PropValue } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { previewOf } from '@/components/preview'
import { titleOf } from '@/components/references'
import { DeskBar, DeskTrouble, useDesk } from '../desk/desk'
import { useBeside } from '../desk/use-beside'
import type { Landing } from '../desk/drag-on-page'
import { FieldList } from '../desk/field-list'
import { freshId } from '../desk/fresh-id'
import { PageFrame } from '../desk/page-frame'
import { Revisions } from '../desk/revisions'
import { Shelf } from '../desk/shelf'
import { TreeList } from '../desk/tree-list'
import { useKeys } from '../desk/use-keys'
import { VersionNotes } from '../desk/version-notes'
import { Note, Screen } from '../frame/screen'
import { TestNotes } from '../frame/test-notes'
import { Files, WhereUsed } from '../page/page-notes'

/** A menu as a tree that can be taken in hand, above the header in which visitors see it. */
export function MenuDesk({ account, view, refetch }: { account: AccountView; view: DocumentView; refetch: () => void }) {
  const desk = useDesk(view, refetch)
  const { editing, state, shown, version, locked } = desk
  const { document } = state
  const [beside, setBeside] = useBeside(desk)
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
  const handleKey = useKeys({
    plain: {
      v: () => desk.make('chance', null, document.root),
      ',': () => desk.stepAlong(-1, document.root),
      '.': () => desk.stepAlong(1, document.root),
      Escape: () => editing.select(null),
    },
    withControl: {
      z: (shift) => (shift ? editing.redo() : editing.undo()),
      y: editing.redo,
      s: () => void desk.askToPublish(),
    },
  })
  const other = state.versions.find(({ id }) => id === beside)
  const changed = new Set(version === undefined ? [] : reachOf(document, version.edits))
  const added = new Set(version?.edits.flatMap((edit) => (edit.kind === 'insert' ? Object.keys(edit.tree.nodes) : [])) ?? [])
  const content = selected === null ? undefined : shown.nodes[selected]
  return (
    <Screen
      account={account}
      wide
      sheet={
        <div className="page-sheet">
          <DeskBar account={account} desk={desk} />
          <DeskTrouble desk={desk} />
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
              <div className="place-tools">
                <Button disabled={locked} onClick={() => add(document.root)}>
                  Add an entry
                </Button>
                <Button disabled={locked || selected === null} onClick={() => selected !== null && add(selected)}>
                  Add one below “{content === undefined ? '…' : String(content.props.words ?? '')}”
                </Button>
                <Button disabled={locked || selected === null} onClick={() => selected !== null && remove(selected)}>
                  Remove
                </Button>
              </div>
              <p className="quiet">
                Drag up and down to order, to the right to put an entry below the one before it. By keyboard: Alt with the arrows.
              </p>
            </section>
          </div>
        </div>
      }
      margin={
        <>
          {version === undefined ? null : <VersionNotes key={version.id} account={account} desk={desk} version={version} />}
          {selected === null || content === undefined ? (
            <Note title="Title">
              <FieldList
                node={document.root}
                content={nodeAt(shown, document.root)}
                original={version === undefined ? undefined : nodeAt(document, document.root)}
                surroundings={view.surroundings}
                disabled={locked}
                change={(prop: string, value: PropValue) => desk.write(document.root, prop, value, false)}
              />
            </Note>
          ) : (
            <Note title={parentOf(shown, selected) === shown.root ? 'The entry' : 'The entry below'}>
              <FieldList
                node={selected}
                content={content}
                original={version === undefined ? undefined : document.nodes[selected]}
                surroundings={view.surroundings}
                disabled={locked}
                change={(prop: string, value: PropValue) => desk.write(selected, prop, value, false)}
              />
            </Note>
          )}
          <TestNotes title="Test of this menu" tests={view.tests} />
          <WhereUsed title="Stands on" places={view.places} />
          <Revisions desk={desk} />
          <Files account={account} desk={desk} />
        </>
      }
      shelf={
        <Shelf
          view={view}
          state={state}
          editing={editing}
          node={document.root}
          beside={beside}
          setBeside={setBeside}
          make={(manner, from) => desk.make(manner, from, document.root)}
        />
      }
    />
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
