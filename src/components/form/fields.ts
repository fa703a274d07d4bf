import { amount, arrangement, choice, componentType, line, link, yesNo } from '../component-type'

export const form = componentType({
  type: 'form',
  label: 'form',
  fields: {
    title: line('Title'),
    buttonWords: line('Button', 'Send'),
    next: link('Page shown afterwards'),
    /** Empty where nothing is ordered with it. */
    order: amount('Each is an order worth'),
    arrangement: arrangement({ stacked: 'One below the other', pairs: 'In pairs' }, 'stacked'),
  },
  holds: ['formField'],
  excerpt: 'title',
  pressable: true,
  marked: true,
  content: true,
  palette: 'ask',
  begins: [
    ['formField', { label: 'Your name', name: 'name' }],
    ['formField', { label: 'E-mail', name: 'email', kind: 'email' }],
  ],
})

export const formField = componentType({
  type: 'formField',
  label: 'form field',
  fields: {
    label: line('Label', 'New field'),
    name: line('Name', 'field'),
    kind: choice(
      'Kind',
      { text: 'One line', email: 'E-mail', tel: 'Telephone', date: 'Date', select: 'Choice', textarea: 'Several lines' },
      'text',
    ),
    choices: line('Choices (separated by commas)'),
    required: yesNo('Must be filled in', true),
  },
  holds: [],
  excerpt: 'label',
  pressable: false,
  marked: true,
  content: false,
  palette: 'ask',
  begins: [],
})
