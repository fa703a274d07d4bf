import { look } from '../look'
import type { section } from './fields'

export const sectionLook = look<typeof section>(({ props, mark, children }) => (
  <section className={`section ground-${props.ground} ${props.spacing}`} {...mark}>
    <div className={`measure ${props.width}`}>{children}</div>
  </section>
))
