import { arrangement, choice, componentType, line, link } from '../component-type'

export const button = componentType({
  type: 'button',
  label: 'button',
  fields: {
    words: line('Words', 'Read more'),
    link: link('Leads to'),
    arrangement: arrangement({ button: 'Button', broad: 'As wide as its place', arrow: 'Link with an arrow' }, 'button'),
    colour: choice('Colour', { deep: 'Deep', accent: 'Accent', quiet: 'Outline' }, 'deep'),
    size: choice('Size', { normal: 'Normal', large: 'Large' }, 'normal'),
  },
  holds: [],
  excerpt: 'words',
  pressable: true,
  marked: true,
  content: true,
  palette: 'ask',
  begins: [],
})
