import { SignInScreen } from '@/studio/sign-in/sign-in-screen'

export const metadata = { title: 'Sign in' }

export default function Page() {
  return <SignInScreen />
}
