'use client'

import type { TestId } from '@/core/ids'
import { Several } from '../controls/several'
import { useMessages } from '../frame/messages'
import { useAsk, useTell } from '../talk'

/** Under what a test is found again: at any time, also when it is settled. */
export function Tags({ test, tags }: { test: TestId; tags: readonly string[] }) {
  const message = useMessages()
  const known = useAsk('tag.list', {})
  const put = useTell('test.tag')
  return (
    <Several
      own
      aria-label="Tags"
      placeholder="Add a tag …"
      values={tags}
      disabled={put.isPending}
      options={(known.data?.tags ?? []).map((value) => ({ value, label: value }))}
      change={(next) => put.mutate({ test, tags: [...next] }, { onError: (refused) => void message.error(refused.message, 6) })}
    />
  )
}
