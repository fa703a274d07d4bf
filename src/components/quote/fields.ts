import { arrangement, componentType, line, lines } from '../component-type'

export const quote = componentType({
  type: 'quote',
  label: 'quote',
  fields: {
    words: lines('Words', 'What somebody said'),
    by: line('Who said it'),
    arrangement: arrangement({ large: 'Large', aside: 'Aside' }, 'large'),
  },
  holds: [],
  excerpt: 'words',
  pressable: false,
  marked: true,
  content: true,
  palette: 'say',
  begins: [],
})
