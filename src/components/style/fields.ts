import { choice, code, componentType, line, lines } from '../component-type'

/** Which pages a style is for. */
export const styleReach = {
  every: 'Every page',
  type: 'Every page of a type',
  chosen: 'Chosen pages',
  is: 'Pages whose address is',
  starts: 'Pages whose address starts with',
  contains: 'Pages whose address contains',
} as const

/** The root of a style’s document: rules for one kind of part, on some of the pages. */
export const style = componentType({
  type: 'style',
  label: 'style',
  fields: {
    title: line('Title', 'New style'),
    reach: choice('Which pages', styleReach, 'type'),
    pattern: lines('Type, pages or address'),
    part: line('Which part', 'page'),
    css: code('Rules'),
  },
  holds: [],
  excerpt: 'title',
  pressable: false,
  marked: false,
  content: false,
  palette: null,
  begins: [],
})
