'use client'

import { TextField } from '../controls/fields'
import { Button } from '../controls/button'
import { FindChoice } from '../controls/find-choice'
import { type AccountView, type DocumentView, type VersionView } from '@/contract/contract'
import { ancestorsOf, apply, describe, nodeAt, walk, type ContentDocument } from '@/core/document'
import { isOpenToChange } from '@/core/experiment'
import { documentIdSchema } from '@/core/ids'
import { writeExchange } from '@/components/exchange/write'
import { titleOf } from '@/components/references'
import { starterOf } from '@/components/starters'
import { vocabularyOf } from '@/components/types'
import { useMessages } from '../frame/messages'
import { VersionMark } from '../frame/marks'
import { useSiteIdentity } from '../frame/studio'
import { download } from '../media/upload'
import { useTell, type Refused } from '../talk'
import type { Desk } from './desk'
import { holdsType } from './landing'
import { freshId } from './fresh-id'
import { RuleNotes } from './rule-notes'
import { shelfOf } from './shelf'

export interface NotesProps {
  readonly account: AccountView
  readonly desk: Desk
  readonly version: VersionView
}

export function isLocked(version: VersionView, view: DocumentView): boolean {
  const test = view.tests.find(({ id }) => id === version.test)
  return test !== undefined && !isOpenToChange(test.status)
}

/** What is to be said about the version on the page: what it changes, for whom it is, and what can be done with it. */
export function VersionNotes({ account, desk, version }: NotesProps) {
  const { view, state, editing, locked } = desk
  const message = useMessages()
  const failed = { onError: (reason: Refused) => void message.error(reason.message, 8) }
  const remove = useTell('version.remove', () => editing.show('original' as VersionView['id']))
  const index = shelfOf(state.versions, version.node).findIndex(({ id }) => id === version.id) + 1
  const words = vocabularyOf(view.surroundings, useSiteIdentity())
  const { refused } = apply(state.document, version.edits)
  return (
    <section className="note version-note">
      <h3>
        <VersionMark index={index} /> On the page
      </h3>
      <TextField
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
            <Button size="small" look="quiet" disabled={locked} onClick={() => editing.dropEdit(version.id, at)}>
              Take back
            </Button>
          </li>
        ))}
      </ul>
      {version.manner === 'rule' ? <RuleNotes account={account} desk={desk} version={version} /> : null}
      {version.node === state.document.root && state.document.kind === 'page' ? <FillFrom desk={desk} version={version} /> : null}
      <div className="place-tools">
        <Button size="small" onClick={() => desk.make(version.manner, version.id, version.node)}>
          Duplicate
        </Button>
        {account.role !== 'administrator' || state.document.kind !== 'page' ? null : (
          <Button size="small" disabled={locked} onClick={() => addScript(desk, version)}>
            Add a script
          </Button>
        )}
        <Button
          size="small"
          onClick={() =>
            void editing
              .flush()
              .then(() =>
                download(
                  versionFile(state.document, editing.store.getState().versions.find(({ id }) => id === version.id) ?? version),
                ),
              )
          }
        >
          As a file
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

/** A version of a whole page can begin from what is there, from another page, or with nothing. */
function FillFrom({ desk, version }: { desk: Desk; version: VersionView }) {
  const message = useMessages()
  const { view, editing, locked } = desk
  const fill = useTell('version.fill', (made) => {
    editing.add(made)
    void message.success('The version begins from there now. The address stays the same for visitors.')
  })
  const begin = (from: string) =>
    void editing.flush().then(() => {
      const now = editing.store.getState().versions.find(({ id }) => id === version.id) ?? version
      fill.mutate(
        { id: version.id, lock: now.lock, from: from === '' ? null : documentIdSchema.parse(from) },
        { onError: (reason: Refused) => void message.error(reason.message, 8) },
      )
    })
  const pages = view.surroundings
    .filter(({ kind }) => kind === 'page')
    .map((page) => ({ value: page.id as string, label: titleOf(page) }))
  return (
    <>
      <h4>Begin from</h4>
      <FindChoice
        aria-label="Begin from"
        className="broad"
        placeholder="this page as it is"
        disabled={locked || fill.isPending}
        value={null}
        options={[{ value: '', label: 'an empty page' }, ...pages]}
        change={(from: string | null) => from !== null && begin(from)}
      />
    </>
  )
}

/** A script goes beside the part that varies, so that it comes and goes with the version. */
function addScript({ editing, shown }: Desk, version: VersionView): void {
  const holder = [version.node, ...ancestorsOf(shown, version.node), ...walk(shown)].find((node) =>
    holdsType(shown, node, 'script'),
  )
  if (holder === undefined) return
  const tree = starterOf('script', freshId)
  editing.edit([{ kind: 'insert', parent: holder, after: nodeAt(shown, holder).children.at(-1) ?? null, tree }])
  editing.select(tree.root)
}

function versionFile(document: ContentDocument, { id, name, edits, node }: VersionView) {
  const text = writeExchange({
    kind: 'variant',
    document: document.id,
    node,
    variant: { id, name, edits: [...edits] },
  })
  return { name: `${name}.json`, type: 'application/json', text }
}
