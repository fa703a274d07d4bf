import { arrangement, campaign, choice, componentType, documentRef, line, lines, link } from '../component-type'

/** The place where a call to action is shown. */
export const callToAction = componentType({
  type: 'callToAction',
  label: 'call to action',
  fields: {
    callToAction: documentRef('Call to action', 'callToAction'),
    arrangement: arrangement({ banner: 'Banner', card: 'Card', button: 'Button alone' }, 'banner'),
  },
  holds: [],
  excerpt: null,
  pressable: true,
  marked: true,
  content: true,
  palette: 'ask',
  begins: [],
})

/** The root of a call-to-action document: its texts, wherever it stands. */
export const callToActionText = componentType({
  type: 'callToActionText',
  label: 'call to action',
  fields: {
    title: line('Title', 'New call to action'),
    words: lines('Words'),
    buttonWords: line('Button', 'Go on'),
    link: link('Leads to'),
    look: choice('Look', { accent: 'Accent button', light: 'Light button', dark: 'Dark ground' }, 'accent'),
    arrangement: arrangement(
      { placed: 'As each place has it', banner: 'Banner', card: 'Card', button: 'Button alone' },
      'placed',
    ),
    campaign: campaign(),
  },
  holds: [],
  excerpt: 'title',
  pressable: true,
  marked: true,
  content: false,
  palette: null,
  begins: [],
})
