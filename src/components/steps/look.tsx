import { look } from '../look'
import type { step, steps } from './fields'

export const stepsLook = look<typeof steps>(({ props, mark, children }) => (
  <ol className={`stages ${props.arrangement}`} {...mark}>
    {children}
  </ol>
))

export const stepLook = look<typeof step>(({ props, mark }) => (
  <li {...mark}>
    <strong data-f="title">{props.title}</strong>
    <p data-f="words">{props.words}</p>
  </li>
))
