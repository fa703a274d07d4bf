import { arrangement, componentType, line, rich, yesNo } from '../component-type'

export const accordion = componentType({
  type: 'accordion',
  label: 'accordion',
  fields: {
    arrangement: arrangement({ lines: 'Lines', boxes: 'Boxes', open: 'All laid open' }, 'lines'),
  },
  holds: ['accordionItem'],
  excerpt: null,
  pressable: false,
  marked: true,
  content: true,
  palette: 'layOut',
  begins: [
    ['accordionItem', { title: 'A first question' }],
    ['accordionItem', { title: 'A second question' }],
  ],
})

export const accordionItem = componentType({
  type: 'accordionItem',
  label: 'accordion entry',
  fields: { title: line('Title', 'A question'), words: rich('Words', '<p>Its answer</p>'), open: yesNo('Open at first') },
  holds: [],
  excerpt: 'title',
  pressable: true,
  marked: true,
  content: false,
  palette: 'more',
  begins: [],
})
