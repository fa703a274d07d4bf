import { arrangement, choice, componentType, rich } from '../component-type'

export const text = componentType({
  type: 'text',
  label: 'text',
  fields: {
    words: rich('Words', '<p>New text</p>'),
    arrangement: arrangement({ one: 'One column', two: 'Two columns' }, 'one'),
    size: choice('Size', { lead: 'Lead', body: 'Body', small: 'Small' }, 'body'),
    align: choice('Alignment', { start: 'Left', centre: 'Centred' }, 'start'),
  },
  holds: [],
  excerpt: 'words',
  pressable: false,
  marked: true,
  content: true,
  palette: 'say',
  begins: [],
})
