import { NotebookScreen } from '@/studio/notebook/notebook-screen'
import { requireAccount } from '../session'

export const metadata = { title: 'Notebook' }

export default async function Page() {
  return <NotebookScreen account={await requireAccount()} />
}
