import { look } from '../look'
import type { video } from './fields'

export const videoLook = look<typeof video>(({ props, mark, site }) => (
  <figure className={`video ${props.arrangement}`} {...mark}>
    <video
      controls
      preload="none"
      loop={props.loop}
      aria-label={props.caption}
      poster={props.poster === '' ? undefined : site.pictureAddress(props.poster)}
      src={props.film === '' ? undefined : site.filmAddress(props.film)}
      width={960}
      height={540}
    />
    <figcaption data-f="caption">{props.caption}</figcaption>
  </figure>
))
