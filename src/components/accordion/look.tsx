import { look } from '../look'
import { RichWords } from '../rich-words'
import type { accordion, accordionItem } from './fields'

export const accordionLook = look<typeof accordion>(({ props, mark, children }) => (
  <div className={`accordion ${props.arrangement}`} {...mark}>
    {children}
  </div>
))

export const accordionItemLook = look<typeof accordionItem>(({ props, mark, site }) => (
  <details {...mark} open={props.open}>
    <summary data-f="title">{props.title}</summary>
    <RichWords className="text" words={props.words} site={site} field="words" />
  </details>
))
