import { look } from '../look'
import { ACROSS, imageOf } from '../site-picture'
import type { picture } from './fields'

export const pictureLook = look<typeof picture>(({ props, mark, site }) => (
  <figure className={`picture ${props.shape} ${props.arrangement}`} {...mark}>
    {props.picture === '' ? null : (
      <img
        {...imageOf(site, props.picture, ACROSS, { width: 640, height: props.shape === 'wide' ? 420 : 640 })}
        alt={props.alt}
      />
    )}
    {props.caption === '' ? null : <figcaption data-f="caption">{props.caption}</figcaption>}
  </figure>
))
