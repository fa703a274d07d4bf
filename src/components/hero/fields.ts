import { arrangement, componentType, line, lines, link, picture } from '../component-type'

export const hero = componentType({
  type: 'hero',
  label: 'hero',
  fields: {
    title: line('Title', 'A sentence that makes people stay'),
    words: lines('Words'),
    buttonWords: line('Button', 'Go on'),
    link: link('Leads to'),
    picture: picture('Picture'),
    alt: line('Description for those who cannot see it'),
    arrangement: arrangement({ beside: 'Picture beside', above: 'Picture above', behind: 'Picture behind the words' }, 'beside'),
  },
  holds: [],
  excerpt: 'title',
  pressable: true,
  marked: true,
  content: true,
  palette: 'say',
  begins: [],
})
