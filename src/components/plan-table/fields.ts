import { arrangement, componentType, line, lines, link, yesNo } from '../component-type'

export const planTable = componentType({
  type: 'planTable',
  label: 'price table',
  fields: { arrangement: arrangement({ columns: 'Side by side', rows: 'One below the other' }, 'columns') },
  holds: ['plan'],
  excerpt: null,
  pressable: false,
  marked: true,
  content: true,
  palette: 'list',
  begins: [
    ['plan', { title: 'Small' }],
    ['plan', { title: 'Large', favoured: true }],
  ],
})

export const plan = componentType({
  type: 'plan',
  label: 'price',
  fields: {
    title: line('Title', 'New plan'),
    price: line('Price'),
    period: line('Period', 'a month'),
    includes: lines('Includes (one a line)'),
    buttonWords: line('Button', 'Choose'),
    link: link('Leads to'),
    favoured: yesNo('Set off from the others'),
  },
  holds: [],
  excerpt: 'title',
  pressable: true,
  marked: true,
  content: false,
  palette: 'list',
  begins: [],
})
