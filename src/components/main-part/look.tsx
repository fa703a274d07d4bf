import { look } from '../look'
import type { mainPart } from './fields'

export const mainPartLook = look<typeof mainPart>(({ mark, children }) => (
  <main id="content" {...mark}>
    {children}
  </main>
))
