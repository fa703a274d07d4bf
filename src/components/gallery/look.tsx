import { look } from '../look'
import type { gallery, galleryPicture } from './fields'

export const galleryLook = look<typeof gallery>(({ props, mark, children }) => (
  <div className={`gallery ${props.arrangement}`} {...mark} {...(props.arrangement === 'strip' ? { tabIndex: 0 } : {})}>
    {children}
  </div>
))

export const galleryPictureLook = look<typeof galleryPicture>(({ props, mark, site }) => (
  <figure {...mark}>
    {props.picture === '' ? null : <img src={site.pictureAddress(props.picture)} alt={props.alt} width={480} height={360} />}
    {props.caption === '' ? null : <figcaption data-f="caption">{props.caption}</figcaption>}
  </figure>
))
