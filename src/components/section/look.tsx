import { look } from '../look'
import type { section } from './fields'

export const sectionLook = look<typeof section>(({ props, mark, node, children }) => (
  <section id={node} className={`section ground-${props.ground} ${props.spacing}`} {...mark}>
    <div className={`measure ${props.width} ${props.arrangement}`}>{children}</div>
  </section>
))
