import { look } from '../look'
import type { letter } from './fields'

export const letterLook = look<typeof letter>(({ mark, children }) => (
  <div className="letter" {...mark}>
    {children}
  </div>
))
