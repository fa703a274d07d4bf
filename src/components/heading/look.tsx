import { look } from '../look'
import type { heading } from './fields'

export const headingLook = look<typeof heading>(({ props, mark, node }) => {
  const Tag = props.level
  return (
    <Tag
      className={`heading ${props.size} ${props.colour} align-${props.align} ${props.arrangement}`}
      id={node}
      {...mark}
      data-f="words"
    >
      {props.words}
    </Tag>
  )
})
