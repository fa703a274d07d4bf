import { arrangement, choice, componentType, line, link } from '../component-type'

export const heading = componentType({
  type: 'heading',
  label: 'heading',
  fields: {
    words: line('Words', 'A new heading'),
    level: choice('Rank', { h1: 'Page title', h2: 'Section title', h3: 'Small title' }, 'h2'),
    arrangement: arrangement({ plain: 'Words alone', ruled: 'With a line below' }, 'plain'),
    size: choice('Size', { grand: 'Grand', large: 'Large', medium: 'Medium', small: 'Small' }, 'large'),
    colour: choice('Colour', { ink: 'As the ground', accent: 'Accent' }, 'ink'),
    align: choice('Alignment', { start: 'Left', centre: 'Centred' }, 'start'),
    /** Most headings lead nowhere. */
    link: link('Leads to'),
  },
  holds: [],
  excerpt: 'words',
  pressable: ({ link }) => link !== undefined && link !== '',
  marked: true,
  content: true,
  palette: 'say',
  begins: [],
})
