'use client'

import { PasswordField, TextField } from '../controls/fields'
import { Button } from '../controls/button'
import Link from 'next/link'
import { useRouter } from 'next/navigation'
import { useState, type FormEvent } from 'react'
import { useInBrowser } from '../frame/when'
import { postForm } from './post-form'

export function SignInScreen() {
  const router = useRouter()
  const [fault, setFault] = useState<string | null>(null)
  const [busy, setBusy] = useState(false)
  // What is typed before the code has come stays; it is sent by the code alone, never in an address.
  const answers = useInBrowser()

  const submit = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault()
    const form = new FormData(event.currentTarget)
    setBusy(true)
    const wrong = await postForm('/api/sign-in', { email: form.get('email'), password: form.get('password') })
    setFault(wrong)
    setBusy(false)
    if (wrong === null) router.push('/')
  }

  return (
    <main className="sign-in">
      <form method="post" onSubmit={(event) => void submit(event)}>
        <h1>
          Upbeat <em>Sprig</em>
        </h1>
        <p>Try another version, read an honest answer, keep what works.</p>
        <label htmlFor="email">E-mail</label>
        <TextField id="email" name="email" type="email" autoComplete="username" required autoFocus size="large" />
        <label htmlFor="password">Password</label>
        <PasswordField id="password" name="password" autoComplete="current-password" required size="large" />
        {fault === null ? null : (
          <p role="alert" className="fault">
            {fault}
          </p>
        )}
        <Button look="primary" submits size="large" busy={busy} disabled={!answers}>
          Sign in
        </Button>
        <p>
          <Link href="/forgotten">Forgotten your password?</Link>
        </p>
      </form>
    </main>
  )
}
