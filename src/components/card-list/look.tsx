import { look } from '../look'
import { CARD, imageOf } from '../site-picture'
import type { card, cardList } from './fields'

export const cardListLook = look<typeof cardList>(({ props, mark, children }) => (
  <div className={`cards ${props.arrangement}`} {...mark}>
    {children}
  </div>
))

export const cardLook = look<typeof card>(({ props, mark, site, rank }) => {
  const Title = rank()
  return (
    <article className="card" {...mark}>
      {props.picture === '' ? null : <img {...imageOf(site, props.picture, CARD, { width: 320, height: 320 })} alt="" />}
      <div className="card-words">
        <Title>
          {props.link === '' ? (
            <span data-f="title">{props.title}</span>
          ) : (
            <a href={site.addressOf(props.link)} data-f="title">
              {props.title}
            </a>
          )}
        </Title>
        {props.words === '' ? null : <p data-f="words">{props.words}</p>}
        {props.note === '' ? null : (
          <p className="note" data-f="note">
            {props.note}
          </p>
        )}
      </div>
    </article>
  )
})
