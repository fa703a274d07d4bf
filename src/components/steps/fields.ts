import { arrangement, componentType, line, lines } from '../component-type'

export const steps = componentType({
  type: 'steps',
  label: 'steps',
  fields: { arrangement: arrangement({ row: 'In a row', column: 'One below the other' }, 'row') },
  holds: ['step'],
  excerpt: null,
  pressable: false,
  marked: true,
  content: true,
  palette: 'layOut',
  begins: [
    ['step', { title: 'First' }],
    ['step', { title: 'Then' }],
    ['step', { title: 'Done' }],
  ],
})

export const step = componentType({
  type: 'step',
  label: 'step',
  fields: { title: line('Title', 'Next'), words: lines('Words') },
  holds: [],
  excerpt: 'title',
  pressable: false,
  marked: true,
  content: false,
  palette: 'more',
  begins: [],
})
