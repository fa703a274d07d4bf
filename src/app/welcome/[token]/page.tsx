import Link from 'next/link'
import { readLink } from '@/server/accounts/links'
import { sharedDatabase } from '@/server/database/connect'
import { NewPasswordScreen } from '@/studio/sign-in/new-password-screen'

export const metadata = { title: 'Welcome' }

export default async function Page({ params }: { params: Promise<{ token: string }> }) {
  const { token } = await params
  const link = await readLink(sharedDatabase(), token)
  if (link !== null) return <NewPasswordScreen token={token} name={link.name} invited={link.kind === 'invitation'} />
  return (
    <main className="sign-in">
      <div>
        <h1>This link does not work any more</h1>
        <p>It has been used, or is too old. Ask an administrator for another one.</p>
        <p>
          <Link href="/sign-in">Sign in</Link>
        </p>
      </div>
    </main>
  )
}
