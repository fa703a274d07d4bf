import { look } from '../look'
import type { quote } from './fields'

export const quoteLook = look<typeof quote>(({ props, mark }) => (
  <figure className={`quote ${props.arrangement}`} {...mark}>
    <blockquote>
      <p data-f="words">{props.words}</p>
    </blockquote>
    <figcaption data-f="by">{props.by}</figcaption>
  </figure>
))
