import { arrangement, componentType, line, yesNo } from '../component-type'

/** The pages of one type, each by the title and teaser it says of itself. */
export const pageList = componentType({
  type: 'pageList',
  label: 'list of pages',
  fields: {
    pageType: line('Type of the pages', 'Page'),
    pictures: yesNo('With pictures', true),
    arrangement: arrangement({ threes: 'In threes', rows: 'In rows', titles: 'Titles alone' }, 'rows'),
  },
  holds: [],
  excerpt: 'pageType',
  pressable: false,
  marked: true,
  content: true,
  palette: 'list',
  begins: [],
})
