import { look } from '../look'
import type { picture } from './fields'

export const pictureLook = look<typeof picture>(({ props, mark, site }) => (
  <figure className={`picture ${props.shape} ${props.arrangement}`} {...mark}>
    {props.picture === '' ? null : (
      <img src={site.pictureAddress(props.picture)} alt={props.alt} width={640} height={props.shape === 'wide' ? 420 : 640} />
    )}
    {props.caption === '' ? null : <figcaption data-f="caption">{props.caption}</figcaption>}
  </figure>
))
