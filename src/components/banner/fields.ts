import { arrangement, choice, componentType, line, link } from '../component-type'

export const banner = componentType({
  type: 'banner',
  label: 'banner',
  fields: {
    words: line('Words', 'Something that is new'),
    linkWords: line('Link', ''),
    link: link('Leads to'),
    colour: choice('Colour', { accent: 'Accent', deep: 'Deep', light: 'Light' }, 'accent'),
    arrangement: arrangement({ line: 'On one line', box: 'In a box' }, 'line'),
  },
  holds: [],
  excerpt: 'words',
  pressable: true,
  marked: true,
  content: true,
  palette: 'say',
  begins: [],
})
