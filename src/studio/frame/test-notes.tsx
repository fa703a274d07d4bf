import Link from 'next/link'
import type { DocumentView } from '@/contract/contract'
import { Note } from './screen'
import { statusWords } from './wording'

/** Each test that touches what is looked at, with the way to it. */
export function TestNotes({
  title,
  tests,
}: {
  title: string
  tests: readonly Pick<DocumentView['tests'][number], 'id' | 'name' | 'status'>[]
}) {
  return tests.map(({ id, name, status }) => (
    <Note
      key={id}
      title={title}
      tone={status === 'running' ? 'live' : undefined}
      action={<Link href={`/tests/${id}`}>Open the test</Link>}
    >
      “{name}” is {statusWords[status]}.
    </Note>
  ))
}
