import { arrangement, choice, componentType, contentBut } from '../component-type'

export const section = componentType({
  type: 'section',
  label: 'section',
  fields: {
    ground: choice('Ground', { plain: 'Plain', light: 'Light', deep: 'Deep', accent: 'Accent' }, 'plain'),
    arrangement: arrangement({ stacked: 'One below the other', pair: 'Two beside each other' }, 'stacked'),
    width: choice('Width', { wide: 'Wide', text: 'Reading width' }, 'wide'),
    spacing: choice('Spacing', { roomy: 'Roomy', close: 'Close' }, 'roomy'),
  },
  holds: contentBut(),
  excerpt: null,
  pressable: false,
  marked: true,
  content: false,
  palette: 'layOut',
  begins: [
    ['heading', { words: 'A new section' }],
    ['text', {}],
  ],
})
