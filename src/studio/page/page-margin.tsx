'use client'

import { App, Button, Input } from 'antd'
import Link from 'next/link'
import type { AccountView, DocumentView, VersionView } from '@/contract/contract'
import { apply, describe, nodeAt, parentOf, type PropValue } from '@/core/document'
import { isOpenToChange } from '@/core/experiment'
import type { NodeId } from '@/core/ids'
import { componentTypes, vocabularyOf } from '@/components/types'
import { VersionMark } from '../frame/marks'
import { Note } from '../frame/screen'
import { agoWords, momentWords, statusWords } from '../frame/wording'
import { useTell, type Refused } from '../talk'
import type { Editing, EditingState } from './editing'
import { shownDocument } from './editing'
import { FieldList } from './field-list'
import { RuleSentence } from './rule-sentence'
import { shelfOf } from './shelf'

interface MarginProps {
  readonly account: AccountView
  readonly view: DocumentView
  readonly state: EditingState
  readonly editing: Editing
}

/** Notes on the page, or the fields of what is selected and what is to be said about the version on the page. */
export function PageMargin({ account, view, state, editing }: MarginProps) {
  const { selected } = state
  const shown = shownDocument(state)
  const version = state.versions.find(({ id }) => id === state.onPage)
  if (selected === null) return <PageNotes view={view} state={state} editing={editing} />
  const content = shown.nodes[selected]
  const locked = version !== undefined && isLocked(version, view)
  return (
    <>
      {version === undefined ? null : (
        <VersionNotes
          key={version.id}
          account={account}
          view={view}
          state={state}
          editing={editing}
          version={version}
          locked={locked}
        />
      )}
      <section className="note">
        <h3>
          {content === undefined ? 'Hidden in this version' : `The ${componentTypes.get(content.type)?.label ?? 'component'}`}
        </h3>
        {content === undefined ? (
          <p>What you selected is not shown in this version.</p>
        ) : (
          <FieldList
            node={selected}
            content={content}
            original={version === undefined ? undefined : state.document.nodes[selected]}
            surroundings={view.surroundings}
            pictures={view.pictures}
            disabled={locked}
            change={(prop: string, value: PropValue) =>
              editing.edit([{ kind: 'set', node: selected, prop, value }], `${selected}.${prop}`)
            }
          />
        )}
        <PlaceTools state={state} editing={editing} node={selected} disabled={locked} />
      </section>
      {view.tests
        .filter(({ node }) => node === selected)
        .map(({ id, name, status }) => (
          <Note
            key={id}
            title="Under test"
            tone={status === 'running' ? 'live' : undefined}
            action={<Link href={`/tests/${id}`}>Open the test</Link>}
          >
            “{name}” is {statusWords[status]}.
          </Note>
        ))}
    </>
  )
}

export function isLocked(version: VersionView, view: DocumentView): boolean {
  const test = view.tests.find(({ id }) => id === version.test)
  return test !== undefined && !isOpenToChange(test.status)
}

/** Move among its siblings, hide or remove. */
function PlaceTools({
  state,
  editing,
  node,
  disabled,
}: {
  state: EditingState
  editing: Editing
  node: NodeId
  disabled: boolean
}) {
  const shown = shownDocument(state)
  const parentId = parentOf(shown, node)
  if (parentId === null) return null
  const { children } = nodeAt(shown, parentId)
  const at = children.indexOf(node)
  const isFrame = nodeAt(shown, shown.root).children.includes(node)
  return isFrame ? null : (
    <div className="place-tools">
      <Button
        size="small"
        disabled={disabled || at <= 0}
        onClick={() => editing.edit([{ kind: 'move', node, parent: parentId, after: children[at - 2] ?? null }])}
      >
        Earlier
      </Button>
      <Button
        size="small"
        disabled={disabled || at >= children.length - 1}
        onClick={() => editing.edit([{ kind: 'move', node, parent: parentId, after: children[at + 1] ?? null }])}
      >
        Later
      </Button>
      <Button
        size="small"
        disabled={disabled}
        onClick={() => {
          editing.edit([{ kind: 'remove', node }])
          if (state.onPage === 'original') editing.select(null)
        }}
      >
        {state.onPage === 'original' ? 'Remove' : 'Hide'}
      </Button>
    </div>
  )
}

function VersionNotes({
  account,
  view,
  state,
  editing,
  version,
  locked,
}: MarginProps & { version: VersionView; locked: boolean }) {
  const { message } = App.useApp()
  const failed = { onError: (reason: Refused) => void message.error(reason.message, 8) }
  const remove = useTell('version.remove', () => editing.show('original' as VersionView['id']))
  const copy = useTell('version.create', (made) => editing.add(made))
  const index = shelfOf(state.versions, version.node).findIndex(({ id }) => id === version.id) + 1
  const words = vocabularyOf(view.surroundings)
  const { refused } = apply(state.document, version.edits)
  return (
    <section className="note version-note">
      <h3>
        <VersionMark index={index} /> On the page
      </h3>
      <Input
        aria-label="Name of the version"
        value={version.name}
        maxLength={80}
        disabled={locked}
        onChange={({ target }) => editing.changeVersion(version.id, { name: target.value })}
      />
      {locked ? <p className="asks">It is in a test that runs, so it stays as it is. Pause the test to change it.</p> : null}
      <h4>What is different</h4>
      {version.edits.length === 0 ? (
        <p className="quiet">Nothing yet. Change something on the page or below; the original stays as it is.</p>
      ) : null}
      <ul className="edit-list">
        {version.edits.map((edit, at) => (
          <li key={at}>
            <span>
              {describe(state.document, edit, words)}
              {refused.some((one) => one.edit === edit) ? <em> (no longer fits)</em> : null}
            </span>
            <Button size="small" type="text" disabled={locked} onClick={() => editing.dropEdit(version.id, at)}>
              Take back
            </Button>
          </li>
        ))}
      </ul>
      {version.manner === 'rule' ? (
        <RuleNotes account={account} view={view} state={state} editing={editing} version={version} />
      ) : null}
      <div className="place-tools">
        <Button
          size="small"
          onClick={() =>
            void editing
              .flush()
              .then(() =>
                copy.mutate(
                  { document: state.document.id, node: version.node, manner: version.manner, from: version.id },
                  failed,
                ),
              )
          }
        >
          Duplicate
        </Button>
        <Button
          size="small"
          disabled={locked || version.test !== null}
          title={version.test === null ? undefined : 'It belongs to a test; leave it out there first.'}
          onClick={() => remove.mutate({ id: version.id }, failed)}
        >
          Remove
        </Button>
      </div>
    </section>
  )
}

/** For whom, in which order, and whether it is live. */
function RuleNotes({ account, view, state, editing, version }: MarginProps & { version: VersionView }) {
  const { message } = App.useApp()
  const failed = { onError: (reason: Refused) => void message.error(reason.message, 8) }
  const publish = useTell(
    'personalization.publish',
    () => void message.success('Live: visitors see the version that suits them.'),
  )
  const withdraw = useTell(
    'personalization.withdraw',
    () => void message.success('Taken off the site. Everybody sees the original.'),
  )
  const order = useTell('version.order')
  const rules = state.versions.filter((one) => one.node === version.node && one.manner === 'rule')
  const at = rules.findIndex(({ id }) => id === version.id)
  const live = view.live.find(({ node }) => node === version.node)
  const may = mayAs(account.role, 'publisher')
  const swap = (other: number) => {
    const ids = rules.map(({ id }) => id)
    const [mine, theirs] = [ids[at], ids[other]]
    if (mine === undefined || theirs === undefined) return
    ids[at] = theirs
    ids[other] = mine
    order.mutate({ document: state.document.id, node: version.node, versions: ids }, failed)
  }
  const isCurrent = live?.current === true && state.saving === 'saved'
  return (
    <>
      <h4>For whom</h4>
      <RuleSentence
        condition={version.condition}
        surroundings={view.surroundings}
        disabled={false}
        change={(condition) => editing.changeVersion(version.id, { condition })}
      />
      {rules.length < 2 ? null : (
        <p className="rule-order">
          Tried as number {at + 1} of {rules.length}; the first that fits is shown.{' '}
          <Button size="small" disabled={at <= 0} onClick={() => swap(at - 1)}>
            Try earlier
          </Button>{' '}
          <Button size="small" disabled={at >= rules.length - 1} onClick={() => swap(at + 1)}>
            Try later
          </Button>
        </p>
      )}
      <p className={isCurrent ? 'living-line' : 'quiet'}>
        {live === undefined
          ? 'Not live: nobody sees it yet.'
          : isCurrent
            ? 'Live as it stands here.'
            : 'Live, but changed since.'}
      </p>
      <div className="place-tools">
        <Button
          size="small"
          type="primary"
          disabled={!may || isCurrent}
          title={may ? undefined : 'Only a publisher can do this.'}
          loading={publish.isPending}
          onClick={() =>
            void editing.flush().then(() => publish.mutate({ document: state.document.id, node: version.node }, failed))
          }
        >
          Publish for visitors
        </Button>
        {live === undefined ? null : (
          <Button
            size="small"
            disabled={!may}
            onClick={() => withdraw.mutate({ document: state.document.id, node: version.node }, failed)}
          >
            Take off the site
          </Button>
        )}
      </div>
    </>
  )
}

function PageNotes({ view, state, editing }: Omit<MarginProps, 'account'>) {
  const { message, modal } = App.useApp()
  const restore = useTell(
    'document.restore',
    () => void message.success('The draft is as that revision was. Publish it to show it.'),
  )
  const root = nodeAt(state.document, state.document.root)
  const ask = (revision: number) =>
    void modal.confirm({
      title: `Bring revision ${revision} back into the draft?`,
      content: 'The draft as it is now is replaced; visitors see no change until it is published.',
      okText: 'Bring it back',
      cancelText: 'Not now',
      icon: null,
      onOk: () =>
        editing
          .flush()
          .then(() =>
            restore.mutate(
              { document: state.document.id, revision, lock: editing.store.getState().lock },
              { onError: (reason) => void message.error(reason.message, 8) },
            ),
          ),
    })
  return (
    <>
      <Note title={String(root.props.title ?? '')}>
        Point at a part of the page, or walk with the arrow keys. Enter writes on the page, <kbd>v</kbd> makes a variant.{' '}
        <kbd>?</kbd> lists the rest.
      </Note>
      {view.tests.map(({ id, name, status }) => (
        <Note
          key={id}
          title="Test on this page"
          tone={status === 'running' ? 'live' : undefined}
          action={<Link href={`/tests/${id}`}>Open the test</Link>}
        >
          “{name}” is {statusWords[status]}.
        </Note>
      ))}
      {view.live.length === 0 ? null : (
        <Note tone="live">
          {view.live.length === 1 ? 'One part is' : `${view.live.length} parts are`} shown in different versions, by rule.
        </Note>
      )}
      <Note title="Revisions">
        <p className="quiet">
          Last changed by {view.editedBy}, {agoWords(view.editedAt)}.
        </p>
        <ol className="revisions">
          {view.revisions.map(({ number, note, author, at }) => (
            <li key={number}>
              <span>
                {number}. {note || 'Published'} — {author}, {momentWords(at)}
                {number === view.publishedRevision ? <span className="living"> live</span> : null}
              </span>
              <Button size="small" type="text" onClick={() => ask(number)}>
                Bring back
              </Button>
            </li>
          ))}
        </ol>
      </Note>
    </>
  )
}
