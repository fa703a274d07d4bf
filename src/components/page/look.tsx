import { look } from '../look'
import type { page } from './fields'

export const pageLook = look<typeof page>(({ mark, children }) => (
  <div className="page" {...mark}>
    {children}
  </div>
))
