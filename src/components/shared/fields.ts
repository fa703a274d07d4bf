import { campaign, componentType, contentBut, documentRef, line, overrides } from '../component-type'

/** The place where a shared component stands, with what this place has of its own. */
export const shared = componentType({
  type: 'shared',
  label: 'shared component',
  fields: { shared: documentRef('Shared component', 'shared'), overrides: overrides('Different here') },
  holds: [],
  excerpt: null,
  pressable: false,
  marked: true,
  content: true,
  palette: 'again',
  begins: [],
})

/** The root of a shared component’s document. */
export const sharedPart = componentType({
  type: 'sharedPart',
  label: 'shared component',
  fields: { title: line('Title', 'New shared component'), campaign: campaign() },
  holds: contentBut('shared'),
  excerpt: 'title',
  pressable: false,
  marked: false,
  content: false,
  palette: null,
  begins: [],
})
