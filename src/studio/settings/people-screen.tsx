'use client'

import { useQuestions } from '../controls/questions'
import { Choice } from '../controls/choices'
import { Button } from '../controls/button'
import { TextField } from '../controls/fields'
import { useState } from 'react'
import { roles, type AccountView, type Output, type PersonLine, type Role } from '@/contract/contract'
import type { AccountId } from '@/core/ids'
import { useMessages } from '../frame/messages'
import { Note, Screen, Waiting } from '../frame/screen'
import { agoWords, momentWords, plural } from '../frame/wording'
import { useAsk, useTell, type Refused } from '../talk'
import { SettingsPlaces } from './settings-places'

const roleWords: Readonly<Record<Role, string>> = {
  editor: 'editor: makes and prepares',
  publisher: 'publisher: also puts live',
  administrator: 'administrator: also looks after people and settings',
}

/** Who may sign in, and as what. */
export function PeopleScreen({ account }: { account: AccountView }) {
  const asked = useAsk('person.list', {})
  const [made, setMade] = useState<{ name: string; link: Output<'person.invite'> } | null>(null)
  return (
    <Screen
      account={account}
      sheet={
        <>
          <header className="sheet-head">
            <h1>People</h1>
          </header>
          <SettingsPlaces account={account} />
          {asked.data === undefined ? (
            <Waiting error={asked.error} again={() => void asked.refetch()} />
          ) : (
            <People people={asked.data.people} own={account.id} made={(name, link) => setMade({ name, link })} />
          )}
          {made === null ? null : <MadeLink {...made} close={() => setMade(null)} />}
          <Invite made={(name, link) => setMade({ name, link })} />
        </>
      }
      margin={<PeopleMargin people={asked.data?.people ?? []} />}
    />
  )
}

type Made = (name: string, link: Output<'person.invite'>) => void

function People({ people, own, made }: { people: readonly PersonLine[]; own: string; made: Made }) {
  return (
    <section className="band" aria-label="Accounts">
      <table className="rows people">
        <thead>
          <tr>
            <th>Name</th>
            <th>May</th>
            <th>Last seen</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {people.map((person) => (
            <Person key={person.id} person={person} own={person.id === own} made={made} />
          ))}
        </tbody>
      </table>
    </section>
  )
}

function Person({ person, own, made }: { person: PersonLine; own: boolean; made: Made }) {
  const message = useMessages()
  const { id, name, email, role, state, seenAt, linkUntil } = person
  const subject = { person: id as AccountId }
  const failed = { onError: (reason: Refused) => void message.error(reason.message, 8) }
  const setRole = useTell('person.setRole', () => void message.success(`${name} has another role now.`))
  const disable = useTell(
    'person.disable',
    () => void message.success(state === 'closed' ? `${name} may sign in again.` : `${name} is signed out and cannot sign in.`),
  )
  const reset = useTell('person.reset', (link) => made(name, link))
  const signOut = useTell('person.signOut', () => void message.success(`${name} is signed out everywhere.`))
  const [askFirst, questions] = useQuestions()
  const seen = seenAt === null ? 'never' : agoWords(seenAt)
  return (
    <tr className={state === 'closed' ? 'closed' : undefined}>
      <td>
        {name}
        {own ? ' (you)' : ''}
        <br />
        <span className="quiet">{email}</span>
      </td>
      <td>
        <Choice
          aria-label={`Role of ${name}`}
          value={role}
          disabled={state === 'closed'}
          options={roles.map((value) => ({ value, label: value }))}
          change={(next: Role) => setRole.mutate({ ...subject, role: next }, failed)}
        />
      </td>
      <td className="quiet">
        {state === 'closed' ? 'account closed' : state === 'invited' ? 'invited, has not come yet' : seen}
        {linkUntil === null ? null : (
          <>
            <br />
            link good until {momentWords(linkUntil)}
          </>
        )}
      </td>
      <td>
        <div className="tools">
          {state === 'closed' ? null : (
            <>
              <Button size="small" busy={reset.isPending} onClick={() => reset.mutate(subject, failed)}>
                {state === 'invited' ? 'New invitation' : 'New password'}
              </Button>
              <Button size="small" busy={signOut.isPending} onClick={() => signOut.mutate(subject, failed)}>
                Sign out everywhere
              </Button>
            </>
          )}
          {own ? null : state === 'closed' ? (
            <Button size="small" onClick={() => disable.mutate({ ...subject, disabled: false }, failed)}>
              Open the account
            </Button>
          ) : (
            <>
              <Button
                size="small"
                onClick={() =>
                  askFirst({
                    title: `Close the account of ${name}?`,
                    content: 'They are signed out at once and cannot sign in. What they made stays. You can let them in again.',
                    act: 'Close it',
                    otherwise: 'Leave it',
                    go: () => disable.mutate({ ...subject, disabled: true }, failed),
                  })
                }
              >
                Close the account
              </Button>
              {questions}
            </>
          )}
        </div>
      </td>
    </tr>
  )
}

function MadeLink({
  name,
  link: { link, until, sent },
  close,
}: {
  name: string
  link: Output<'person.invite'>
  close: () => void
}) {
  const message = useMessages()
  return (
    <div role="status" className="trouble said">
      <p>
        {sent
          ? `It was sent to ${name}. You can also hand it on yourself.`
          : `Hand this link to ${name} yourself: this studio sends no mail.`}{' '}
        It is shown this once, can be used once, and is good until {momentWords(until)}.
      </p>
      <p>
        <code className="key-said">{link}</code>
      </p>
      <p className="tools">
        <Button
          size="small"
          onClick={() =>
            void navigator.clipboard.writeText(link).then(
              () => message.success('Copied.'),
              () => message.error('This browser does not let it be copied. Select it and copy it by hand.'),
            )
          }
        >
          Copy the link
        </Button>
        <Button size="small" look="quiet" onClick={close}>
          Done with it
        </Button>
      </p>
    </div>
  )
}

function Invite({ made }: { made: Made }) {
  const message = useMessages()
  const [name, setName] = useState('')
  const [email, setEmail] = useState('')
  const [role, setRole] = useState<Role>('editor')
  const invite = useTell('person.invite', (link) => {
    made(name, link)
    setName('')
    setEmail('')
  })
  const submit = () => invite.mutate({ name, email, role }, { onError: (reason) => void message.error(reason.message, 8) })
  return (
    <section className="band" aria-label="Invite somebody">
      <h2>Invite somebody</h2>
      <form
        method="post"
        className="invite"
        onSubmit={(event) => {
          event.preventDefault()
          submit()
        }}
      >
        <label>
          <span>Name</span>
          <TextField value={name} maxLength={120} onChange={({ target }) => setName(target.value)} />
        </label>
        <label>
          <span>E-mail</span>
          <TextField type="email" value={email} maxLength={254} onChange={({ target }) => setEmail(target.value)} />
        </label>
        <label>
          <span>Role</span>
          <Choice
            aria-label="Role of the person invited"
            value={role}
            options={roles.map((value) => ({ value, label: roleWords[value] }))}
            change={setRole}
          />
        </label>
        <Button look="primary" submits disabled={name.trim() === '' || email.trim() === ''} busy={invite.isPending}>
          Make the invitation
        </Button>
      </form>
    </section>
  )
}

function PeopleMargin({ people }: { people: readonly PersonLine[] }) {
  const mails = useAsk('mail.list', {})
  const administrators = people.filter(({ role, state }) => role === 'administrator' && state === 'open').length
  return (
    <>
      <Note title="Roles">
        <p>An editor makes and prepares everything, and sees no names or addresses from forms.</p>
        <p>A publisher also puts live: publishes, starts, stops, decides.</p>
        <p>An administrator also looks after people, keys, scripts and settings.</p>
      </Note>
      <Note title="Administrators" tone={administrators === 1 ? 'asks' : undefined}>
        {administrators === 1
          ? 'There is only one. If that person cannot sign in any more, only the command line helps: make a second one.'
          : `There are ${administrators}. The last one cannot be taken away.`}
      </Note>
      {mails.data === undefined ? null : (
        <Note title={mails.data.on ? 'Mail (stand-in)' : 'Mail'}>
          {!mails.data.on ? (
            'This studio sends no mail: hand links on yourself. Who forgot their password asks you for one.'
          ) : mails.data.mails.length === 0 ? (
            'What would be sent is kept here. Nothing has been.'
          ) : (
            <>
              <p>{`What would be sent is kept here: ${plural(mails.data.mails.length, 'mail', 'mails')} lately.`}</p>
              <ul>
                {mails.data.mails.slice(0, 5).map(({ seq, to, subject, at }) => (
                  <li key={seq}>
                    {subject}, to {to}, {agoWords(at)}
                  </li>
                ))}
              </ul>
            </>
          )}
        </Note>
      )}
    </>
  )
}
