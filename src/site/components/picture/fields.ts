import { choice, componentType, line, picture as pictureField } from '../component-type'

export const picture = componentType({
  type: 'picture',
  label: 'picture',
  fields: {
    picture: pictureField('Picture'),
    alt: line('Description for those who cannot see it'),
    shape: choice('Shape', { wide: 'Wide', square: 'Square', arch: 'Arch' }, 'wide'),
  },
  holds: [],
  excerpt: 'alt',
})
