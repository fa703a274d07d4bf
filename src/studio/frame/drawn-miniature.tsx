import type { CSSProperties } from 'react'
import type { MiniatureView } from '@/contract/contract'

/** A part alone, small, as the server drew it; nothing in it can be pressed. */
export function DrawnMiniature({ address, width, label }: MiniatureView & { label: string }) {
  return (
    <div className="scaled still">
      <iframe
        title={`Miniature of ${label}`}
        src={address}
        sandbox="allow-same-origin"
        tabIndex={-1}
        aria-hidden
        style={{ '--page': `${width}px` } as CSSProperties}
      />
    </div>
  )
}
