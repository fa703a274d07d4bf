import { look } from '../look'
import type { banner } from './fields'

export const bannerLook = look<typeof banner>(({ props, mark, site }) => (
  <p className={`strip ${props.arrangement} ${props.colour}`} {...mark}>
    <span data-f="words">{props.words}</span>
    {props.linkWords === '' ? null : (
      <>
        {' '}
        <a href={site.addressOf(props.link)} data-f="linkWords">
          {props.linkWords}
        </a>
      </>
    )}
  </p>
))
