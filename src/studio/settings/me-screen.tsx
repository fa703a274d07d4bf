'use client'

import { PasswordField, TextField } from '../controls/fields'
import { Button } from '../controls/button'
import { useRouter } from 'next/navigation'
import { useState, type FormEvent } from 'react'
import type { AccountView } from '@/contract/contract'
import { useMessages } from '../frame/messages'
import { Note, Screen } from '../frame/screen'
import { postForm } from '../sign-in/post-form'
import { useTell } from '../talk'
import { SettingsPlaces } from './settings-places'

/** One's own name, e-mail and password. */
export function MeScreen({ account }: { account: AccountView }) {
  return (
    <Screen
      account={account}
      sheet={
        <>
          <header className="sheet-head">
            <h1>Your account</h1>
          </header>
          <SettingsPlaces account={account} />
          <About account={account} />
          <Password />
        </>
      }
      margin={
        <Note title="Passwords">
          Four words that have nothing to do with each other are easy to keep and hard to guess. When you change your password,
          every other browser in which you are signed in is signed out.
        </Note>
      }
    />
  )
}

function About({ account }: { account: AccountView }) {
  const message = useMessages()
  const router = useRouter()
  const [name, setName] = useState(account.name)
  const [email, setEmail] = useState(account.email)
  const [password, setPassword] = useState('')
  const moves = email.trim().toLowerCase() !== account.email
  const save = useTell('self.save', () => {
    void message.success('Kept.')
    setPassword('')
    router.refresh()
  })
  const submit = (event: FormEvent) => {
    event.preventDefault()
    save.mutate({ name, email, ...(moves ? { password } : {}) }, { onError: (reason) => void message.error(reason.message, 8) })
  }
  return (
    <section className="band" aria-label="Name and e-mail">
      <h2>Name and e-mail</h2>
      <form className="own" method="post" onSubmit={submit}>
        <label>
          <span>Name</span>
          <TextField value={name} maxLength={120} onChange={({ target }) => setName(target.value)} />
        </label>
        <label>
          <span>E-mail</span>
          <TextField type="email" value={email} maxLength={254} onChange={({ target }) => setEmail(target.value)} />
        </label>
        {moves ? (
          <div>
            <label htmlFor="own-password">Password you have now</label>
            <PasswordField
              id="own-password"
              autoComplete="current-password"
              value={password}
              onChange={({ target }) => setPassword(target.value)}
            />
          </div>
        ) : null}
        <Button submits disabled={name === account.name && !moves} busy={save.isPending}>
          Keep these
        </Button>
      </form>
    </section>
  )
}

function Password() {
  const message = useMessages()
  const [fault, setFault] = useState<string | null>(null)
  const [busy, setBusy] = useState(false)
  const submit = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault()
    const form = event.currentTarget
    const values = new FormData(form)
    setBusy(true)
    const wrong =
      values.get('next') === values.get('again')
        ? await postForm('/api/password', { password: values.get('next'), current: values.get('current') })
        : 'The two are not the same. Type them again.'
    setBusy(false)
    setFault(wrong)
    if (wrong !== null) return
    form.reset()
    void message.success('Changed. Every other browser is signed out.')
  }
  return (
    <section className="band" aria-label="Password">
      <h2>Password</h2>
      <form className="own" method="post" onSubmit={(event) => void submit(event)}>
        <div>
          <label htmlFor="own-current">The one you have now</label>
          <PasswordField id="own-current" name="current" autoComplete="current-password" required />
        </div>
        <div>
          <label htmlFor="own-next">The new one</label>
          <PasswordField id="own-next" name="next" autoComplete="new-password" required />
        </div>
        <div>
          <label htmlFor="own-again">The new one again</label>
          <PasswordField id="own-again" name="again" autoComplete="new-password" required />
        </div>
        {fault === null ? null : (
          <p role="alert" className="fault">
            {fault}
          </p>
        )}
        <Button submits busy={busy}>
          Change it
        </Button>
      </form>
    </section>
  )
}
