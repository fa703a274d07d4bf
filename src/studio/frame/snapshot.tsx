'use client'

import type { TestId } from '@/core/ids'
import { useAsk } from '../talk'

/** A stored picture: a page of its own, in a frame in which no script can run. */
export function Snapshot({ test, which, caption }: { test: TestId; which: 'original' | 'chosen'; caption: string }) {
  const asked = useAsk('notebook.picture', { test, which })
  return (
    <figure className="snapshot">
      <div>
        {asked.data?.html ? (
          <iframe title={`${caption}, as it looked`} sandbox="allow-same-origin" srcDoc={asked.data.html} tabIndex={-1} />
        ) : null}
      </div>
      <figcaption>{caption}</figcaption>
    </figure>
  )
}
