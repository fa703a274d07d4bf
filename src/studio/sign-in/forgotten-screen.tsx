'use client'

import { TextField } from '../controls/fields'
import { Button } from '../controls/button'
import Link from 'next/link'
import { useState, type FormEvent } from 'react'
import { useInBrowser } from '../frame/when'
import { postForm } from './post-form'

/** Asks for a link to a new password. */
export function ForgottenScreen() {
  const [fault, setFault] = useState<string | null>(null)
  const [asked, setAsked] = useState(false)
  const [busy, setBusy] = useState(false)
  // What is typed before the code has come stays; it is sent by the code alone, never in an address.
  const answers = useInBrowser()

  const submit = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault()
    setBusy(true)
    const wrong = await postForm('/api/forgotten', { email: new FormData(event.currentTarget).get('email') })
    setBusy(false)
    setFault(wrong)
    setAsked(wrong === null)
  }

  return (
    <main className="sign-in">
      <form method="post" onSubmit={(event) => void submit(event)}>
        <h1>Forgotten your password?</h1>
        {asked ? (
          <p role="status">
            If somebody here has this e-mail, a link to a new password is on its way to them. It is good for a day.
          </p>
        ) : (
          <>
            <p>Give your e-mail. A link to a new password is sent to it.</p>
            <label htmlFor="email">E-mail</label>
            <TextField id="email" name="email" type="email" autoComplete="username" required size="large" />
            {fault === null ? null : (
              <p role="alert" className="fault">
                {fault}
              </p>
            )}
            <Button look="primary" submits size="large" busy={busy} disabled={!answers}>
              Send me a link
            </Button>
          </>
        )}
        <p>
          <Link href="/sign-in">Back to signing in</Link>
        </p>
      </form>
    </main>
  )
}
