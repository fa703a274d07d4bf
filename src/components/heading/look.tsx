import { look } from '../look'
import type { heading } from './fields'

export const headingLook = look<typeof heading>(({ props, mark, node, site }) => {
  const Tag = props.level
  const shown = { className: `heading ${props.size} ${props.colour} align-${props.align} ${props.arrangement}`, id: node }
  if (props.link === '')
    return (
      <Tag {...shown} {...mark} data-f="words">
        {props.words}
      </Tag>
    )
  return (
    <Tag {...shown} {...mark}>
      <a href={site.addressOf(props.link)} data-f="words">
        {props.words}
      </a>
    </Tag>
  )
})
