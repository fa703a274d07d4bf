import { notFound } from 'next/navigation'
import { documentIdSchema } from '@/core/ids'
import { DocumentScreen } from '@/studio/desk/document-screen'
import { readFirst } from '../../read-first'
import { requireAccount } from '../../session'
import { titled } from '../../titled'

export async function generateMetadata({ params }: { params: Promise<{ document: string }> }) {
  const id = documentIdSchema.safeParse((await params).document)
  return titled(id.success ? { kind: 'document', id: id.data } : null, 'Page')
}

export default async function Page({ params }: { params: Promise<{ document: string }> }) {
  const account = await requireAccount()
  const id = documentIdSchema.safeParse((await params).document)
  if (!id.success) notFound()
  return (
    <DocumentScreen
      account={account}
      document={id.data}
      first={await readFirst('document.open', { document: id.data }, account)}
    />
  )
}
