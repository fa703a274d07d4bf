import { arrangement, componentType, line, rich } from '../component-type'

export const tabs = componentType({
  type: 'tabs',
  label: 'tabs',
  fields: { arrangement: arrangement({ above: 'Names above', beside: 'Names at the side' }, 'above') },
  holds: ['tab'],
  excerpt: null,
  pressable: false,
  marked: true,
  content: true,
  palette: 'layOut',
  begins: [
    ['tab', { title: 'First' }],
    ['tab', { title: 'Second' }],
  ],
})

export const tab = componentType({
  type: 'tab',
  label: 'tab',
  fields: { title: line('Name', 'A name'), words: rich('Words', '<p>What belongs to it</p>') },
  holds: [],
  excerpt: 'title',
  pressable: true,
  marked: true,
  content: false,
  palette: 'more',
  begins: [],
})
