import { campaign, componentType, line, lines, link, pagePath, picture } from '../component-type'

/** The root of a page: what is said about it, not what stands on it. */
export const page = componentType({
  type: 'page',
  label: 'page',
  fields: {
    title: line('Title'),
    description: lines('Description'),
    path: pagePath('Address'),
    pageType: line('Page type', 'Page'),
    listTitle: line('Title where it is listed'),
    teaser: lines('Teaser where it is listed'),
    picture: picture('Picture where it is listed'),
    route: link('Sends its visitors to'),
    campaign: campaign(),
  },
  holds: ['menu', 'mainPart'],
  excerpt: 'title',
  pressable: false,
  marked: false,
  content: false,
  palette: null,
  begins: [],
})
