'use client'

import { Button, Input } from 'antd'
import { useRouter } from 'next/navigation'
import { useState, type FormEvent } from 'react'
import { postForm } from './post-form'

/** After a password that was given out comes one of one's own. */
export function NewPasswordScreen() {
  const router = useRouter()
  const [fault, setFault] = useState<string | null>(null)
  const [busy, setBusy] = useState(false)

  const submit = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault()
    const form = new FormData(event.currentTarget)
    setBusy(true)
    const wrong =
      form.get('password') === form.get('again')
        ? await postForm('/api/new-password', { password: form.get('password') })
        : 'The two are not the same. Type them again.'
    setFault(wrong)
    setBusy(false)
    if (wrong === null) router.push('/')
  }

  return (
    <main className="sign-in">
      <form onSubmit={(event) => void submit(event)}>
        <h1>A password of your own</h1>
        <p>The one you came with was good for this once. Take at least 12 characters.</p>
        <label htmlFor="password">New password</label>
        <Input.Password id="password" name="password" autoComplete="new-password" required size="large" />
        <label htmlFor="again">The same again</label>
        <Input.Password id="again" name="again" autoComplete="new-password" required size="large" />
        {fault === null ? null : (
          <p role="alert" className="fault">
            {fault}
          </p>
        )}
        <Button type="primary" htmlType="submit" size="large" loading={busy}>
          Keep it
        </Button>
      </form>
    </main>
  )
}
