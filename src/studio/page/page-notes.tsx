'use client'

import { FindChoice } from '../controls/find-choice'
import { Button } from '../controls/button'
import { SheetOver } from '../controls/sheet-over'
import { TextField } from '../controls/fields'
import { useRouter } from 'next/navigation'
import { useState, type ReactNode } from 'react'
import { mayAs, type AccountView } from '@/contract/contract'
import { ORIGINAL } from '@/core/decide'
import { nodeAt, parentOf, type PropValue } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { turnedInto } from '@/components/starters'
import { titleOf } from '@/components/references'
import { componentTypes } from '@/components/types'
import { useMessages } from '../frame/messages'
import type { Desk } from '../desk/desk'
import { landingByKey } from '../desk/landing'
import { fieldName } from '../desk/wrong-field'
import { FieldList } from '../desk/field-list'
import { PutAway } from '../desk/put-away'
import { Revisions } from '../desk/revisions'
import { VersionNotes } from '../desk/version-notes'
import { Note } from '../frame/screen'
import { Serving, Unserved } from '../frame/serving'
import { TestNotes } from '../frame/test-notes'
import { WhereUsed } from '../frame/where-used'
import { download } from '../media/upload'
import { talk, useTell, type Refused } from '../talk'
import { MenuMembership } from './menu-membership'

/** Notes on the page, or the fields of what is selected and what is to be said about the version on the page. */
export function PageMargin({
  account,
  desk,
  duplicate,
  notes,
}: {
  account: AccountView
  desk: Desk
  duplicate: (node: NodeId) => void
  notes?: (desk: Desk) => ReactNode
}) {
  const { view, state, shown, version, locked } = desk
  const { selected } = state
  if (selected === null) return notes?.(desk) ?? <PageNotes account={account} desk={desk} />
  const content = shown.nodes[selected]
  const isRoot = selected === state.document.root
  return (
    <>
      {version === undefined ? null : <VersionNotes key={version.id} account={account} desk={desk} version={version} />}
      <section className="note">
        <h3>
          {content === undefined
            ? 'Hidden in this version'
            : isRoot && state.document.kind === 'page'
              ? 'The whole page'
              : `The ${componentTypes.get(content.type)?.label ?? 'component'}`}
        </h3>
        {content === undefined ? (
          <p>What you selected is not shown in this version.</p>
        ) : (
          <FieldList
            node={selected}
            content={content}
            original={version === undefined ? undefined : state.document.nodes[selected]}
            surroundings={view.surroundings}
            disabled={locked || (content.type === 'script' && account.role !== 'administrator')}
            wrong={(prop) => state.wrong.get(fieldName(version?.id ?? ORIGINAL, selected, prop))}
            change={(prop: string, value: PropValue) => desk.write(selected, prop, value, false)}
          />
        )}
        {content === undefined ? null : <PartTools desk={desk} node={selected} duplicate={duplicate} />}
        {isRoot && version === undefined && state.document.kind === 'page' ? (
          <MenuMembership page={state.document} surroundings={view.surroundings} />
        ) : null}
      </section>
      <TestNotes title="Under test" tests={view.tests.filter(({ node }) => node === selected)} />
      {isRoot ? notes?.(desk) : null}
    </>
  )
}

/** Order among its siblings, turn into another type, duplicate, share, hide or remove. */
function PartTools({ desk, node, duplicate }: { desk: Desk; node: NodeId; duplicate: (node: NodeId) => void }) {
  const { editing, state, shown, locked } = desk
  const [sharing, setSharing] = useState(false)
  const parentId = parentOf(shown, node)
  const content = nodeAt(shown, node)
  if (parentId === null || content.type === 'mainPart') return null
  const move = (key: 'ArrowUp' | 'ArrowDown') => {
    const landing = landingByKey(shown, node, key)
    return landing === null ? null : () => editing.edit([{ kind: 'move', node, ...landing }])
  }
  const [earlier, later] = [move('ArrowUp'), move('ArrowDown')]
  const others = (componentTypes.get(nodeAt(shown, parentId).type)?.holds ?? []).filter((type) => {
    const holds = componentTypes.get(type)?.holds ?? []
    const fits = content.children.every((child) => holds.includes(nodeAt(shown, child).type))
    return type !== content.type && type !== 'script' && fits
  })
  return (
    <>
      {others.length === 0 ? null : (
        <FindChoice
          aria-label="Turn it into"
          className="broad"
          placeholder="Turn it into …"
          value={null}
          disabled={locked}
          options={others.map((type) => ({ value: type, label: componentTypes.get(type)?.label ?? type }))}
          change={(type: string | null) =>
            type !== null && editing.edit([{ kind: 'replace', node, type, props: turnedInto(type, content) }])
          }
        />
      )}
      <div className="place-tools">
        <Button size="small" disabled={locked || earlier === null} onClick={() => earlier?.()}>
          Earlier
        </Button>
        <Button size="small" disabled={locked || later === null} onClick={() => later?.()}>
          Later
        </Button>
        <Button size="small" disabled={locked} onClick={() => duplicate(node)}>
          Duplicate
        </Button>
        <Button
          size="small"
          disabled={locked}
          onClick={() => {
            editing.edit([{ kind: 'remove', node }])
            if (state.onPage === 'original') editing.select(null)
          }}
        >
          {state.onPage === 'original' ? 'Remove' : 'Hide'}
        </Button>
        {state.document.kind === 'page' && state.onPage === 'original' && content.type !== 'menu' ? (
          <Button size="small" onClick={() => setSharing(true)}>
            Share it
          </Button>
        ) : null}
      </div>
      {sharing ? <Share desk={desk} node={node} close={() => setSharing(false)} /> : null}
    </>
  )
}

/** A part becomes a shared component, and its place here becomes one of that component’s places. */
function Share({ desk, node, close }: { desk: Desk; node: NodeId; close: () => void }) {
  const message = useMessages()
  const { editing, state } = desk
  const [title, setTitle] = useState('')
  const share = async () => {
    try {
      await editing.flush()
      const { id } = await talk('document.saveAs', { document: state.document.id, kind: 'shared', node, title })
      const part = nodeAt(state.document, node)
      // A section keeps its frame here; what was in it is now shared.
      const into = part.type === 'section' || part.type === 'column' ? part.children[0] : node
      const others = part.type === 'section' || part.type === 'column' ? part.children.slice(1) : []
      if (into !== undefined) {
        const below = nodeAt(state.document, into).children
        editing.edit([
          ...[...others, ...below].map((gone) => ({ kind: 'remove' as const, node: gone })),
          { kind: 'replace', node: into, type: 'shared', props: { shared: id, overrides: [] } },
        ])
      }
      void message.success('It is a shared component now. Publish it, and then this page, and visitors see it.')
      close()
    } catch (reason) {
      void message.error((reason as Refused).message, 8)
    }
  }
  return (
    <SheetOver
      title="Share this part between pages"
      act={{ words: 'Share it', go: () => void share(), disabled: title.trim() === '' }}
      close={close}
    >
      <p>It is edited once and changes in every place. Single fields can be different in a place.</p>
      <label className="question">
        <span>What it is called</span>
        <TextField value={title} maxLength={200} onChange={({ target }) => setTitle(target.value)} />
      </label>
    </SheetOver>
  )
}

function PageNotes({ account, desk }: { account: AccountView; desk: Desk }) {
  const { view, state } = desk
  return (
    <>
      <Note
        title={titleOf(state.document)}
        action={
          <Button size="small" onClick={() => desk.editing.select(state.document.root)}>
            Settings of the page
          </Button>
        }
      >
        Point at a part of the page, or walk with the arrow keys. Enter writes on the page, <kbd>v</kbd> makes a variant.{' '}
        <kbd>?</kbd> lists the rest.
      </Note>
      <Unserved about={view.document.id} />
      <TestNotes title="Test on this page" tests={view.tests} />
      {view.live.length === 0 ? null : (
        <Note tone="live">
          {view.live.length === 1 ? 'One part is' : `${view.live.length} parts are`} shown in different versions, by rule.
        </Note>
      )}
      <WhereUsed title="Stands on" places={view.places} />
      <WhereUsed title="Linked from" places={view.linkedFrom} />
      <Revisions desk={desk} />
      <Serving />
      <Files account={account} desk={desk} />
    </>
  )
}

/** The document as a file, and as a beginning for others. */
export function Files({ account, desk }: { account: AccountView; desk: Desk }) {
  const router = useRouter()
  const message = useMessages()
  const { editing, state, failed } = desk
  const { document } = state
  const saveAs = useTell('document.saveAs', ({ id }) => {
    void message.success('A template now: new pages can begin from it.')
    router.push(`/site/${id}`)
  })
  const take = (as: 'json' | 'html' | 'opml') =>
    void editing.flush().then(() => talk('format.document', { document: document.id, as }).then(download, failed))
  return (
    <Note title="Elsewhere">
      <div className="place-tools">
        {document.kind === 'page' ? (
          <Button size="small" onClick={() => take('html')}>
            As HTML
          </Button>
        ) : null}
        {document.kind === 'menu' ? (
          <Button size="small" onClick={() => take('opml')}>
            As OPML
          </Button>
        ) : null}
        <Button size="small" onClick={() => take('json')}>
          As JSON
        </Button>
        {document.kind === 'page' && mayAs(account.role, 'editor') ? (
          <Button
            size="small"
            busy={saveAs.isPending}
            onClick={() =>
              void editing
                .flush()
                .then(() =>
                  saveAs.mutate(
                    { document: document.id, kind: 'template', node: null, title: `Like ${titleOf(document)}`.slice(0, 200) },
                    { onError: failed },
                  ),
                )
            }
          >
            Save as a template
          </Button>
        ) : null}
        <PutAway account={account} desk={desk} />
      </div>
    </Note>
  )
}
