import { nodeAt } from '@/core/document'
import { propsOf } from '../component-type'
import { look } from '../look'
import { callToActionText, type callToAction } from './fields'

export const callToActionLook = look<typeof callToAction>(({ props, mark, site }) => {
  const document = site.document(props.callToAction)
  if (document === null) return <aside className="call empty" {...mark} />
  const texts = propsOf(callToActionText, nodeAt(document, document.root))
  return (
    <aside className={`call ${props.arrangement}`} {...mark}>
      {props.arrangement === 'button' ? null : (
        <div>
          <h2>{texts.title}</h2>
          <p>{texts.words}</p>
        </div>
      )}
      <a className="button brass large" href={site.addressOf(texts.link)}>
        {texts.buttonWords}
      </a>
    </aside>
  )
})
