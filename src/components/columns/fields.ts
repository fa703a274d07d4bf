import { arrangement, choice, componentType } from '../component-type'
import { content } from '../section/fields'

export const columns = componentType({
  type: 'columns',
  label: 'columns',
  fields: {
    arrangement: arrangement({ even: 'Even', leftWide: 'Left wider', rightWide: 'Right wider', swapped: 'Swapped' }, 'even'),
  },
  holds: ['column'],
})

export const column = componentType({
  type: 'column',
  label: 'column',
  fields: { align: choice('Alignment', { start: 'Top', centre: 'Middle' }, 'start') },
  holds: content.filter((type) => type !== 'columns'),
})
