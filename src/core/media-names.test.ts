import { mediaNamedIn } from './media-names'

const name = (digit: string) => `m-${digit.repeat(32)}`

test('every file that is named anywhere is found once, and nothing that only looks like one', () => {
  const named = {
    picture: name('a'),
    text: `<p><img src="/media/${name('b')}"></p>`,
    edits: [{ kind: 'set', prop: 'picture', value: name('a') }, { tree: { nodes: { x: { props: { film: name('c') } } } } }],
    identity: { mark: name('d') },
    others: ['m-abc', `${name('e')}f`, `x${name('f')}`, 'moth'],
  }
  expect([...mediaNamedIn(named, name('1'), undefined, null)].sort()).toEqual(['1', 'a', 'b', 'c', 'd'].map(name))
})
