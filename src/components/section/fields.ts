import { arrangement, choice, componentType } from '../component-type'

export const content = [
  'hero',
  'heading',
  'text',
  'picture',
  'gallery',
  'video',
  'button',
  'banner',
  'cardList',
  'pageList',
  'accordion',
  'tabs',
  'steps',
  'planTable',
  'testimonial',
  'quote',
  'form',
  'callToAction',
  'shared',
  'columns',
  'script',
]

export const section = componentType({
  type: 'section',
  label: 'section',
  fields: {
    ground: choice('Ground', { plain: 'Plain', light: 'Light', deep: 'Deep', accent: 'Accent' }, 'plain'),
    arrangement: arrangement({ stacked: 'One below the other', pair: 'Two beside each other' }, 'stacked'),
    width: choice('Width', { wide: 'Wide', text: 'Reading width' }, 'wide'),
    spacing: choice('Spacing', { roomy: 'Roomy', close: 'Close' }, 'roomy'),
  },
  holds: content,
})
