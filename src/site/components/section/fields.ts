import { choice, componentType } from '../component-type'

export const content = [
  'heading',
  'text',
  'picture',
  'button',
  'cardList',
  'planTable',
  'quote',
  'form',
  'callToAction',
  'columns',
]

export const section = componentType({
  type: 'section',
  label: 'section',
  fields: {
    ground: choice('Ground', { plain: 'Plain', cream: 'Cream', pine: 'Pine', brass: 'Brass' }, 'plain'),
    width: choice('Width', { wide: 'Wide', text: 'Reading width' }, 'wide'),
    spacing: choice('Spacing', { roomy: 'Roomy', close: 'Close' }, 'roomy'),
  },
  holds: content,
})
