'use client'

import { PasswordField } from '../controls/fields'
import { Button } from '../controls/button'
import { useRouter } from 'next/navigation'
import { useState, type FormEvent } from 'react'
import { useInBrowser } from '../frame/when'
import { postForm } from './post-form'

/** A password of one's own: after one that was given out, or by a link. */
export function NewPasswordScreen({ token, name, invited = false }: { token?: string; name?: string; invited?: boolean }) {
  const router = useRouter()
  const [fault, setFault] = useState<string | null>(null)
  const [busy, setBusy] = useState(false)
  // What is typed before the code has come stays; it is sent by the code alone, never in an address.
  const answers = useInBrowser()

  const submit = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault()
    const form = new FormData(event.currentTarget)
    setBusy(true)
    const password = form.get('password')
    const wrong =
      password !== form.get('again')
        ? 'The two are not the same. Type them again.'
        : await (token === undefined ? postForm('/api/password', { password }) : postForm('/api/welcome', { token, password }))
    setFault(wrong)
    setBusy(false)
    if (wrong === null) router.push('/')
  }

  return (
    <main className="sign-in">
      <form method="post" onSubmit={(event) => void submit(event)}>
        <h1>{invited ? `Welcome, ${name}` : 'A password of your own'}</h1>
        <p>
          {token === undefined
            ? 'The one you came with was good for this once.'
            : invited
              ? 'Choose a password, and you are in.'
              : `Choose a new password for ${name}.`}{' '}
          Take at least 12 characters; four words that have nothing to do with each other are good.
        </p>
        <label htmlFor="password">New password</label>
        <PasswordField id="password" name="password" autoComplete="new-password" required size="large" />
        <label htmlFor="again">The same again</label>
        <PasswordField id="again" name="again" autoComplete="new-password" required size="large" />
        {fault === null ? null : (
          <p role="alert" className="fault">
            {fault}
          </p>
        )}
        <Button look="primary" submits size="large" busy={busy} disabled={!answers}>
          Keep it
        </Button>
      </form>
    </main>
  )
}
