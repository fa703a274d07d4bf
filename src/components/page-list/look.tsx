import { nodeAt } from '@/core/document'
import { propsOf } from '../component-type'
import { look } from '../look'
import { CARD, imageOf } from '../site-picture'
import { page } from '../page/fields'
import type { pageList } from './fields'

export const pageListLook = look<typeof pageList>(({ props, mark, site, listed, rank }) => {
  const Title = rank()
  return (
    <div className={`cards ${props.arrangement}`} {...mark}>
      {site.pagesOfType(props.pageType).map((one) =>
        listed(one, (document, cardMark) => {
          const about = propsOf(page, nodeAt(document, document.root))
          return (
            <article className="card" {...cardMark}>
              {!props.pictures || about.picture === '' || props.arrangement === 'titles' ? null : (
                <img {...imageOf(site, about.picture, CARD, { width: 320, height: 240 })} alt="" />
              )}
              <div className="card-words">
                <Title>
                  <a href={site.addressOf(`page:${document.id}`)}>{about.listTitle || about.title}</a>
                </Title>
                {about.teaser === '' || props.arrangement === 'titles' ? null : <p>{about.teaser}</p>}
              </div>
            </article>
          )
        }),
      )}
    </div>
  )
})
