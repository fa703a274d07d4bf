import { look } from '../look'
import type { shared, sharedPart } from './fields'
import { asPlaced } from './overrides'

export const sharedLook = look<typeof shared>(({ props, mark, site, embed }) => {
  const document = site.document(props.shared)
  return (
    <div className="shared" {...mark}>
      {document === null ? null : embed(asPlaced(document, props.overrides))}
    </div>
  )
})

export const sharedPartLook = look<typeof sharedPart>(({ mark, children }) => (
  <div className="shared-part" {...mark}>
    {children}
  </div>
))
