import { NewPasswordScreen } from '@/studio/sign-in/new-password-screen'

export const metadata = { title: 'A password of your own' }

export default function Page() {
  return <NewPasswordScreen />
}
