import { arrangement, componentType, line, lines, picture } from '../component-type'

export const testimonial = componentType({
  type: 'testimonial',
  label: 'testimonial',
  fields: {
    words: lines('Words', 'What somebody says about it'),
    by: line('Who says it'),
    role: line('Who that is'),
    picture: picture('Picture'),
    arrangement: arrangement({ card: 'Card', wide: 'Picture beside' }, 'card'),
  },
  holds: [],
  excerpt: 'words',
  pressable: false,
  marked: true,
  content: true,
  palette: 'say',
  begins: [],
})
