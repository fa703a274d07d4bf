import { arrangement, choice, componentType, documentRef, line, link } from '../component-type'

/** The place where a menu document is shown. */
export const menu = componentType({
  type: 'menu',
  label: 'menu',
  fields: {
    menu: documentRef('Menu', 'menu'),
    arrangement: arrangement({ end: 'Links at the end', below: 'Links on a line of their own' }, 'end'),
    place: choice('Place', { header: 'Head of the page', footer: 'Foot of the page' }, 'header'),
  },
  holds: [],
  excerpt: null,
  pressable: false,
  marked: false,
  content: false,
  palette: 'more',
  begins: [],
})

/** The root of a menu document. */
export const menuTree = componentType({
  type: 'menuTree',
  label: 'menu',
  fields: { title: line('Title') },
  holds: ['menuItem'],
  excerpt: 'title',
  pressable: false,
  marked: false,
  content: false,
  palette: null,
  begins: [],
})

export const menuItem = componentType({
  type: 'menuItem',
  label: 'menu item',
  fields: { words: line('Words', 'New item'), link: link('Leads to') },
  holds: ['menuItem'],
  excerpt: 'words',
  pressable: true,
  marked: true,
  content: false,
  palette: null,
  begins: [],
})
