import { arrangement, choice, componentType, contentBut } from '../component-type'

export const columns = componentType({
  type: 'columns',
  label: 'columns',
  fields: {
    arrangement: arrangement({ even: 'Even', leftWide: 'Left wider', rightWide: 'Right wider', swapped: 'Swapped' }, 'even'),
  },
  holds: ['column'],
  excerpt: null,
  pressable: false,
  marked: true,
  content: true,
  palette: 'layOut',
  begins: [
    [
      'column',
      {},
      [
        ['heading', { words: 'On one side', level: 'h3', size: 'medium' }],
        ['text', {}],
      ],
    ],
    [
      'column',
      {},
      [
        ['heading', { words: 'On the other', level: 'h3', size: 'medium' }],
        ['text', {}],
      ],
    ],
  ],
})

export const column = componentType({
  type: 'column',
  label: 'column',
  fields: { align: choice('Alignment', { start: 'Top', centre: 'Middle' }, 'start') },
  holds: contentBut('columns'),
  excerpt: null,
  pressable: false,
  marked: true,
  content: false,
  palette: 'more',
  begins: [['text', {}]],
})
