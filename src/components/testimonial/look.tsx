import { look } from '../look'
import type { testimonial } from './fields'

export const testimonialLook = look<typeof testimonial>(({ props, mark, site }) => (
  <figure className={`testimonial ${props.arrangement}`} {...mark}>
    {props.picture === '' ? null : <img src={site.pictureAddress(props.picture)} alt="" width={160} height={160} />}
    <blockquote data-f="words">{props.words}</blockquote>
    <figcaption>
      <strong data-f="by">{props.by}</strong>
      {props.role === '' ? null : <span data-f="role">{props.role}</span>}
    </figcaption>
  </figure>
))
