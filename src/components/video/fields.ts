import { arrangement, componentType, film, line, picture, yesNo } from '../component-type'

export const video = componentType({
  type: 'video',
  label: 'video',
  fields: {
    film: film('File'),
    poster: picture('Picture before it plays'),
    caption: line('What it shows', 'A short film'),
    loop: yesNo('Begin again at the end'),
    arrangement: arrangement({ framed: 'In a frame', full: 'From edge to edge' }, 'framed'),
  },
  holds: [],
  excerpt: 'caption',
  pressable: false,
  marked: true,
  content: true,
  palette: 'show',
  begins: [],
})
