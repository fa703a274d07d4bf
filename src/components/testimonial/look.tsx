import { look } from '../look'
import { imageOf } from '../site-picture'
import type { testimonial } from './fields'

export const testimonialLook = look<typeof testimonial>(({ props, mark, site }) => (
  <figure className={`testimonial ${props.arrangement}`} {...mark}>
    {props.picture === '' ? null : <img {...imageOf(site, props.picture, '160px', { width: 160, height: 160 })} alt="" />}
    <blockquote data-f="words">{props.words}</blockquote>
    <figcaption>
      <strong data-f="by">{props.by}</strong>
      {props.role === '' ? null : <span data-f="role">{props.role}</span>}
    </figcaption>
  </figure>
))
