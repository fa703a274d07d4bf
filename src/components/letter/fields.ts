import { campaign, componentType, line } from '../component-type'

/** The root of a newsletter: how it stands in a mailbox before it is opened. */
export const letter = componentType({
  type: 'letter',
  label: 'newsletter',
  fields: {
    title: line('Subject'),
    opening: line('Words after the subject'),
    campaign: campaign(),
  },
  holds: ['heading', 'text', 'picture', 'quote', 'button', 'callToAction'],
  excerpt: 'title',
  pressable: false,
  marked: false,
  content: false,
  palette: null,
  begins: [],
})
