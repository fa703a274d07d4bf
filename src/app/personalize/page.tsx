import { PersonalizeScreen } from '@/studio/personalize/personalize-screen'
import { requireAccount } from '../session'

export const metadata = { title: 'Personalize' }

export default async function Page() {
  return <PersonalizeScreen account={await requireAccount()} />
}
