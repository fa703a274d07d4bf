import { look } from '../look'
import type { column, columns } from './fields'

export const columnsLook = look<typeof columns>(({ props, mark, children }) => (
  <div className={`columns ${props.arrangement}`} {...mark}>
    {children}
  </div>
))

export const columnLook = look<typeof column>(({ props, mark, children }) => (
  <div className={`column ${props.align}`} {...mark}>
    {children}
  </div>
))
