import { look } from '../look'
import type { heading } from './fields'

export const headingLook = look<typeof heading>(({ props, mark }) => {
  const Tag = props.level
  return (
    <Tag className={`heading ${props.size} ${props.colour} align-${props.align}`} {...mark} data-f="words">
      {props.words}
    </Tag>
  )
})
