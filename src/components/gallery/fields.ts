import { arrangement, componentType, line, picture } from '../component-type'

export const gallery = componentType({
  type: 'gallery',
  label: 'gallery',
  fields: { arrangement: arrangement({ grid: 'Grid', strip: 'Strip to scroll', first: 'The first one large' }, 'grid') },
  holds: ['galleryPicture'],
  excerpt: null,
  pressable: false,
  marked: true,
  content: true,
  palette: 'show',
  begins: [
    ['galleryPicture', {}],
    ['galleryPicture', {}],
    ['galleryPicture', {}],
  ],
})

export const galleryPicture = componentType({
  type: 'galleryPicture',
  label: 'picture of a gallery',
  fields: {
    picture: picture('Picture'),
    alt: line('Description for those who cannot see it'),
    caption: line('Caption'),
  },
  holds: [],
  excerpt: 'caption',
  pressable: false,
  marked: true,
  content: false,
  palette: 'more',
  begins: [],
})
