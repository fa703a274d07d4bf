import { arrangement, componentType, line, lines, link, picture } from '../component-type'

export const cardList = componentType({
  type: 'cardList',
  label: 'card list',
  fields: { arrangement: arrangement({ threes: 'In threes', fives: 'In fives', rows: 'In rows' }, 'threes') },
  holds: ['card'],
  excerpt: null,
  pressable: false,
  marked: true,
  content: true,
  palette: 'list',
  begins: [
    ['card', { title: 'One' }],
    ['card', { title: 'Two' }],
    ['card', { title: 'Three' }],
  ],
})

export const card = componentType({
  type: 'card',
  label: 'card',
  fields: {
    title: line('Title', 'New card'),
    words: lines('Words'),
    picture: picture('Picture'),
    note: line('Note'),
    link: link('Leads to'),
  },
  holds: [],
  excerpt: 'title',
  pressable: true,
  marked: true,
  content: false,
  palette: 'list',
  begins: [],
})
