import { look } from '../look'
import { RichWords } from '../rich-words'
import type { tab, tabs } from './fields'

/** Without a script: entries of one name, of which the browser keeps one open (HTML standard, the details element). */
export const tabsLook = look<typeof tabs>(({ props, mark, children }) => (
  <div className={`tabs ${props.arrangement}`} {...mark}>
    {children}
  </div>
))

export const tabLook = look<typeof tab>(({ props, mark, site, place }) => {
  const { parent, first } = place()
  return (
    <details {...mark} name={parent ?? undefined} open={first}>
      <summary data-f="title">{props.title}</summary>
      <RichWords className="text" words={props.words} site={site} field="words" />
    </details>
  )
})
