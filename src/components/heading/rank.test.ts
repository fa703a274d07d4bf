import { documentSchema } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { rankAt } from './rank'

const leaf = (type: string, props: object = {}) => ({ type, props, children: [] })

test('a title that comes with a component is one rank below the heading before it', () => {
  const document = documentSchema.parse({
    id: 'a',
    kind: 'page',
    root: 'root',
    nodes: {
      root: { type: 'page', props: {}, children: ['form', 'hero', 'plan', 'call', 'list', 'small', 'last'] },
      form: leaf('form'),
      hero: leaf('hero'),
      plan: leaf('plan'),
      call: leaf('callToAction'),
      list: { type: 'cardList', props: {}, children: ['one', 'two'] },
      one: leaf('card'),
      two: leaf('card'),
      small: leaf('heading', { level: 'h3' }),
      last: leaf('pageList'),
    },
  })
  const ranks = ['form', 'plan', 'one', 'two', 'last'].map((id) => rankAt(document, id as NodeId))
  expect(ranks).toEqual(['h2', 'h2', 'h3', 'h3', 'h4'])
  expect(rankAt({ ...document, kind: 'shared', nodes: { ...document.nodes } }, 'form' as NodeId)).toBe('h3')
})
