import { campaign, componentType, documentRef, line, overrides } from '../component-type'
import { content } from '../section/fields'

/** The place where a shared component stands, with what this place has of its own. */
export const shared = componentType({
  type: 'shared',
  label: 'shared component',
  fields: { shared: documentRef('Shared component', 'shared'), overrides: overrides('Different here') },
  holds: [],
})

/** The root of a shared component’s document. */
export const sharedPart = componentType({
  type: 'sharedPart',
  label: 'shared component',
  fields: { title: line('Title', 'New shared component'), campaign: campaign() },
  holds: content.filter((type) => type !== 'shared'),
  excerpt: 'title',
})
