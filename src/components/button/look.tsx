import { look } from '../look'
import type { button } from './fields'

export const buttonLook = look<typeof button>(({ props, mark, site }) => (
  <p className="button-line" {...mark}>
    <a className={`button ${props.colour} ${props.size} ${props.arrangement}`} href={site.addressOf(props.link)} data-f="words">
      {props.words}
    </a>
  </p>
))
