import { arrangement, choice, componentType, line, picture as pictureField } from '../component-type'

export const picture = componentType({
  type: 'picture',
  label: 'picture',
  fields: {
    picture: pictureField('Picture'),
    alt: line('Description for those who cannot see it'),
    caption: line('Caption'),
    arrangement: arrangement({ plain: 'Plain', framed: 'In a frame' }, 'plain'),
    shape: choice('Shape', { wide: 'Wide', square: 'Square', arch: 'Arch' }, 'wide'),
  },
  holds: [],
  excerpt: 'alt',
  pressable: false,
  marked: true,
  content: true,
  palette: 'show',
  begins: [],
})
