import { ForgottenScreen } from '@/studio/sign-in/forgotten-screen'

export const metadata = { title: 'Forgotten password' }

export default function Page() {
  return <ForgottenScreen />
}
