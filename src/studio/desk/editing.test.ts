import type { DocumentView, VersionView } from '@/contract/contract'
import { ORIGINAL } from '@/core/decide'
import { apply, documentSchema, type Edit } from '@/core/document'
import type { NodeId, VersionId } from '@/core/ids'
import { createEditing, shownDocument } from './editing'
import { judge } from './wrong-field'

const node = (id: string) => id as NodeId
const set = (id: string, prop: string, value: string): Edit => ({ kind: 'set', node: node(id), prop, value })

const document = documentSchema.parse({
  id: 'front',
  kind: 'page',
  root: 'root',
  nodes: {
    root: { type: 'page', props: { title: 'Front' }, children: ['main'] },
    main: { type: 'mainPart', props: {}, children: ['one'] },
    one: { type: 'section', props: {}, children: ['title', 'go'] },
    title: { type: 'heading', props: { words: 'Hello' }, children: [] },
    go: { type: 'button', props: { words: 'Go' }, children: [] },
  },
})
const version: VersionView = {
  id: 'v-1' as VersionId,
  node: node('one'),
  manner: 'chance',
  name: 'A',
  // The second is about a part that somebody has taken out meanwhile.
  edits: [set('title', 'words', 'Hi'), set('gone', 'words', 'Lost')],
  condition: null,
  test: null,
  lock: 4,
}
const view = { document, lock: 3, versions: [version] } as unknown as DocumentView

/** A browser with a storage, and a server that answers as it is told. */
const storage = new Map<string, string>()
const asked: { name: string; input: Record<string, unknown> }[] = []
let answers: ((input: Record<string, unknown>) => unknown)[] = []

beforeEach(() => {
  storage.clear()
  asked.length = 0
  answers = []
  jest.useFakeTimers()
  Object.assign(globalThis, {
    window: {
      setTimeout,
      clearTimeout,
      localStorage: {
        getItem: (name: string) => storage.get(name) ?? null,
        setItem: (name: string, text: string) => void storage.set(name, text),
        removeItem: (name: string) => void storage.delete(name),
      },
    },
    fetch: (address: string, { body }: { body: string }) => {
      const input = JSON.parse(body) as Record<string, unknown>
      asked.push({ name: address.slice('/api/'.length), input })
      const answer = answers.shift()
      if (answer === undefined) return Promise.reject(new Error('away'))
      const said = answer(input)
      const isFault = typeof said === 'object' && said !== null && 'fault' in said
      return Promise.resolve(Response.json(said, { status: isFault ? 400 : 200 }))
    },
  })
})
afterEach(() => {
  jest.useRealTimers()
  for (const name of ['window', 'fetch']) Reflect.deleteProperty(globalThis, name)
})

const refusal = (fault: string) => () => ({ fault, code: 'input' })
const edited = (lock: number) => () => ({ lock, document, merged: false })

test('typing in a version keeps its edits that do not fit, until they are taken back', () => {
  const editing = createEditing(view, 'me')
  editing.show(version.id)
  editing.write(node('go'), 'words', 'Start')
  const edits = () => editing.store.getState().versions[0]?.edits
  expect(edits()).toEqual([set('title', 'words', 'Hi'), set('go', 'words', 'Start'), set('gone', 'words', 'Lost')])
  editing.dropEdit(version.id, 2)
  expect(edits()).toEqual([set('title', 'words', 'Hi'), set('go', 'words', 'Start')])
})

test('what got no answer is sent again under its own name, and by the next desk where this one was closed', async () => {
  const first = createEditing(view, 'me')
  first.write(node('title'), 'words', 'Good morning')
  await jest.advanceTimersByTimeAsync(400)
  expect([first.store.getState().saving, asked.length]).toEqual(['waiting', 1])
  await jest.advanceTimersByTimeAsync(1100)
  expect(asked.map(({ input }) => input.save)).toEqual([asked[0]?.input.save, asked[0]?.input.save])

  answers = [edited(4)]
  const next = createEditing(view, 'me')
  next.recover()
  expect(shownDocument(next.store.getState()).nodes.title?.props.words).toBe('Good morning')
  await jest.advanceTimersByTimeAsync(400)
  expect(asked.at(-1)?.input).toMatchObject({
    save: asked[0]?.input.save,
    base: 3,
    edits: [set('title', 'words', 'Good morning')],
  })
  expect([next.store.getState().saving, next.store.getState().lock, storage.size]).toEqual(['saved', 4, 0])
})

test('what is kept in the browser is nobody else’s, and of no use where it is damaged', () => {
  const mine = createEditing(view, 'me')
  mine.write(node('title'), 'words', 'Mine')
  const [name = '', text = ''] = [...storage][0] ?? []
  for (const [person, kept] of [
    ['you', text],
    ['me', text.slice(0, -5)],
    ['me', '{"parcel":null,"base":0,"edits":[{"kind":"set","node":"constructor"}],"versions":[]}'],
    ['me', 'null'],
  ] as const) {
    storage.set(name, kept)
    const editing = createEditing(view, person)
    editing.recover()
    expect([editing.hasUnsent(), shownDocument(editing.store.getState()).nodes.title?.props.words]).toEqual([false, 'Hello'])
  }
})

test('where one field is refused, what somebody else saved meanwhile is seen, and the next save does not undo it', async () => {
  const editing = createEditing(view, 'me')
  editing.write(node('title'), 'words', 'Good morning')
  editing.write(node('root'), 'title', 'Taken')
  const theirs = apply(document, [set('title', 'words', 'Good morning'), set('go', 'words', 'Their words')]).document
  answers = [
    refusal('One of these is taken.'),
    () => ({ lock: 9, document: theirs, merged: true }),
    refusal('This one is taken.'),
    edited(10),
  ]
  await jest.advanceTimersByTimeAsync(400)
  const { document: seen, lock, wrong, saving } = editing.store.getState()
  expect([lock, saving, seen.nodes.go?.props.words]).toEqual([9, 'saved', 'Their words'])
  expect([...wrong.values()]).toEqual([{ value: 'Taken', message: 'This one is taken.' }])
  editing.write(node('title'), 'words', 'Good evening')
  await jest.advanceTimersByTimeAsync(400)
  expect(asked.map(({ input }) => input.base)).toEqual([3, 3, 9, 9])
  expect(new Set(asked.map(({ input }) => input.save)).size).toBe(4)
})

test('an edit that is sent alone goes again under its own name where no answer came', async () => {
  const editing = createEditing(view, 'me')
  editing.write(node('title'), 'words', 'One')
  editing.write(node('go'), 'words', 'Two')
  answers = [refusal('Not these.')]
  await jest.advanceTimersByTimeAsync(400)
  expect(editing.store.getState().saving).toBe('waiting')
  const next = createEditing(view, 'me')
  answers = [edited(4), edited(5)]
  next.recover()
  await jest.advanceTimersByTimeAsync(400)
  const [, alone, again, other] = asked
  expect([again?.input.save, again?.input.base]).toEqual([alone?.input.save, 3])
  expect(other?.input).toMatchObject({ base: 4, edits: [set('go', 'words', 'Two')] })
})

test('a way back leads through what was edited, in the original and in a version', () => {
  const editing = createEditing(view, 'me')
  editing.write(node('title'), 'words', 'One')
  editing.show(version.id)
  editing.write(node('go'), 'words', 'Two')
  editing.undo()
  expect([editing.store.getState().onPage, editing.store.getState().versions[0]?.edits]).toEqual([version.id, version.edits])
  editing.undo()
  expect([editing.store.getState().onPage, editing.store.getState().document]).toEqual([ORIGINAL, document])
})

test('a field that is none is not judged by what every object has', () => {
  expect(judge('heading', 'constructor', 'x')).toEqual({ value: 'x', fault: null })
  expect(judge('button', 'link', 'javascript:x()').fault).toContain('an address that starts with https://')
})
