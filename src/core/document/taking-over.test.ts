import fc from 'fast-check'
import type { DocumentId, NodeId } from '../ids'
import { apply, compare, fitOf, type ContentDocument, type Edit } from '.'

const node = (id: string) => id as NodeId
const then: ContentDocument = {
  id: 'home' as DocumentId,
  kind: 'page',
  root: node('root'),
  nodes: {
    root: { type: 'page', props: {}, children: [node('title'), node('button'), node('foot')] },
    title: { type: 'heading', props: { words: 'Play it first', level: 1 }, children: [] },
    button: { type: 'button', props: { words: 'Reserve' }, children: [] },
    foot: { type: 'heading', props: { words: 'Open till six' }, children: [] },
  } as Record<string, ContentDocument['nodes'][NodeId]> as ContentDocument['nodes'],
}
const says = (at: string, words: string): Edit => ({ kind: 'set', node: node(at), prop: 'words', value: words })
const gone = (at: string): Edit => ({ kind: 'remove', node: node(at) })
const after = (...edits: Edit[]) => apply(then, edits).document
const fits = (now: ContentDocument, ...edits: Edit[]) => fitOf(then, now, edits).map(({ fit }) => fit)

test('what nobody touched fits, what was changed since clashes and says by what, what is gone does not fit, what was done is there', () => {
  const now = after(says('title', 'Play it today'), gone('foot'), says('button', 'Take it home'))
  const edits = [says('title', 'A month for less'), says('foot', 'Open all night'), says('button', 'Take it home')]
  expect(fits(now, ...edits)).toEqual(['clashes', 'unfit', 'there'])
  expect(fitOf(then, now, edits)[0]?.since).toEqual([says('title', 'Play it today')])
  expect(fits(then, ...edits)).toEqual(['fits', 'fits', 'fits'])
})

test('another property of the same component is another place', () => {
  const now = after({ kind: 'set', node: node('title'), prop: 'level', value: 2 })
  expect(fits(now, says('title', 'A month for less'))).toEqual(['fits'])
})

test('taking away what was changed since clashes, and what is done to it afterwards no longer fits', () => {
  expect(fits(after(says('button', 'Lend it')), gone('button'), says('button', 'Now'))).toEqual(['clashes', 'unfit'])
})

test('where nothing was published since, nothing clashes, whatever the edits; and nothing throws on any document', () => {
  const place = fc.constantFrom('title', 'button', 'foot', 'gone')
  const edit = fc.oneof(
    fc.tuple(place, fc.constantFrom('a', 'b')).map(([at, words]) => says(at, words)),
    place.map(gone),
    place.map((at): Edit => ({ kind: 'move', node: node(at), parent: node('root'), after: null })),
  )
  const edits = fc.array(edit, { maxLength: 6 })
  fc.assert(fc.property(edits, (of) => fits(then, ...of).every((fit) => fit !== 'clashes')))
  fc.assert(
    fc.property(edits, edits, (done, of) => {
      const now = after(...done)
      const found = fitOf(then, now, of)
      expect(found.map(({ index }) => index)).toEqual(of.map((_, index) => index))
      // What clashes does so with something that was done.
      for (const { fit, since } of found) expect(since.length > 0).toBe(fit === 'clashes')
      if (compare(then, now).length === 0) expect(found.some(({ fit }) => fit === 'clashes')).toBe(false)
    }),
  )
})
