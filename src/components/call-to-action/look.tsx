import { nodeAt } from '@/core/document'
import { propsOf } from '../component-type'
import { look } from '../look'
import { callToActionText, type callToAction } from './fields'

/** `data-c` says whose views and presses are counted; the button carries the node of the call to action itself. */
export const callToActionLook = look<typeof callToAction>(({ props, mark, site }) => {
  const document = site.document(props.callToAction)
  if (document === null) return <aside className="call empty" {...mark} />
  const texts = propsOf(callToActionText, nodeAt(document, document.root))
  const arrangement = texts.arrangement === 'placed' ? props.arrangement : texts.arrangement
  return (
    // “button” is what the button itself is called.
    <aside className={`call ${arrangement === 'button' ? 'alone' : arrangement} ${texts.look}`} data-c={document.id} {...mark}>
      {arrangement === 'button' ? null : (
        <div>
          <h2>{texts.title}</h2>
          <p>{texts.words}</p>
        </div>
      )}
      <a className="button accent large" href={site.addressOf(texts.link)} data-n={document.root}>
        {texts.buttonWords}
      </a>
    </aside>
  )
})
