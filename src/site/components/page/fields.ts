import { componentType, line, lines, pagePath } from '../component-type'

/** The root of a page: what is said about it, not what stands on it. */
export const page = componentType({
  type: 'page',
  label: 'page',
  fields: {
    title: line('Title'),
    description: lines('Description'),
    path: pagePath('Address'),
    pageType: line('Page type', 'Page'),
  },
  holds: ['menu', 'mainPart'],
  excerpt: 'title',
})
