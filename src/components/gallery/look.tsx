import { look } from '../look'
import { CARD, imageOf } from '../site-picture'
import type { gallery, galleryPicture } from './fields'

export const galleryLook = look<typeof gallery>(({ props, mark, children }) => (
  <div className={`gallery ${props.arrangement}`} {...mark} {...(props.arrangement === 'strip' ? { tabIndex: 0 } : {})}>
    {children}
  </div>
))

export const galleryPictureLook = look<typeof galleryPicture>(({ props, mark, site }) => (
  <figure {...mark}>
    {props.picture === '' ? null : <img {...imageOf(site, props.picture, CARD, { width: 480, height: 360 })} alt={props.alt} />}
    {props.caption === '' ? null : <figcaption data-f="caption">{props.caption}</figcaption>}
  </figure>
))
