import { look } from '../look'
import { RichWords } from '../rich-words'
import type { text } from './fields'

export const textLook = look<typeof text>(({ props, mark, site }) => (
  <RichWords
    className={`text ${props.size} align-${props.align} ${props.arrangement}`}
    words={props.words}
    site={site}
    field="words"
    {...mark}
  />
))
