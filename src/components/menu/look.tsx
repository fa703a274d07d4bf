import type { ContentDocument } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { propsOf } from '../component-type'
import { look, type SiteView } from '../look'
import { imageOf } from '../site-picture'
import { menuItem, type menu } from './fields'

export const menuLook = look<typeof menu>(({ props, mark, site }) => {
  const { name, smallPrint, mark: picture } = site.identity
  const tree = site.document(props.menu)
  const items = tree === null ? null : <Items tree={tree} of={tree.root} site={site} />
  if (props.place === 'footer') {
    return (
      <footer className="foot" {...mark}>
        <div className="measure wide">
          {name === '' ? null : <p className="brand">{name}</p>}
          <nav aria-label="Foot of the page">{items}</nav>
          {smallPrint === '' ? null : <p className="small-print">{smallPrint}</p>}
        </div>
      </footer>
    )
  }
  return (
    <header className={`head ${props.arrangement}`} {...mark}>
      <a className="skip" href="#content">
        Skip to the content
      </a>
      <div className="measure wide">
        {name === '' ? null : (
          <a className="brand" href={site.front}>
            {picture === '' ? null : <img {...imageOf(site, picture, '30px', { width: 30, height: 30 })} alt="" />}
            {name}
          </a>
        )}
        <nav aria-label="Main">{items}</nav>
      </div>
    </header>
  )
})

function Items({ tree, of, site }: { tree: ContentDocument; of: NodeId; site: SiteView }) {
  return (
    <ul>
      {tree.nodes[of]?.children.map((id) => {
        const node = tree.nodes[id]
        if (node === undefined) return null
        const item = propsOf(menuItem, node)
        return (
          <li key={id}>
            <a href={site.addressOf(item.link)} data-n={id}>
              {item.words}
            </a>
            {node.children.length === 0 ? null : <Items tree={tree} of={id} site={site} />}
          </li>
        )
      })}
    </ul>
  )
}
