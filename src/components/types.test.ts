import type { ContentNode } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { checkProps, componentType, propsOf } from './component-type'
import { button } from './button/fields'
import { heading } from './heading/fields'
import { starterOf } from './starters'
import { componentTypes, content, isPressable } from './types'

test('a type that forgets something, or stands under a wrong name, does not compile', () => {
  // @ts-expect-error its place in the palette is missing
  componentType({
    type: 'x',
    label: 'x',
    fields: {},
    holds: [],
    excerpt: null,
    pressable: false,
    marked: true,
    content: true,
    begins: [],
  })
  expect([...componentTypes].filter(([name, { type }]) => name !== type)).toEqual([])
})

test('a new part of every type in the palette is one that may be kept, with what it begins with', () => {
  let made = 0
  for (const { type } of [...componentTypes.values()].filter(({ palette }) => palette !== null)) {
    const part = starterOf(type, () => `n${++made}` as NodeId)
    for (const { type: name, props, children } of Object.values(part.nodes)) {
      const known = componentTypes.get(name)
      expect(known === undefined ? name : checkProps(known, props)).toMatchObject({ ok: true })
      expect(children.filter((child) => !known?.holds.includes(part.nodes[child]?.type ?? ''))).toEqual([])
    }
  }
  expect(made).toBeGreaterThan(30)
})

test('what a type may hold is itself a known type', () => {
  for (const { holds } of componentTypes.values()) for (const held of holds) expect(componentTypes.has(held)).toBe(true)
})

test('a property that is missing or not allowed is shown by its fallback, so a page never fails', () => {
  const node: ContentNode = { type: 'heading', props: { words: 'Hello', size: 'enormous' }, children: [] }
  expect(propsOf(heading, node)).toMatchObject({ words: 'Hello', size: 'large' })
})

test.each(['javascript:steal()', 'data:text/html,x', '//evil.example', 'page:UPPER'])(
  'a link to %s is refused with the field’s name',
  (link) => {
    const checked = checkProps(button, { link })
    expect(checked).toMatchObject({ ok: false, fault: expect.stringContaining('leads to of a button') })
  },
)

test.each([
  ['shop.example', 'https://shop.example/'],
  ['shop.example/cellos?size=small', 'https://shop.example/cellos?size=small'],
  ['ask@shop.example', 'mailto:ask@shop.example'],
  ['https://例え.example/', 'https://xn--r8jz45g.example/'],
])('an address typed as %s is kept as %s', (typed, kept) => {
  expect(checkProps(button, { link: typed })).toMatchObject({ ok: true, props: { link: kept } })
})

/** A list of pages shows what the pages say; a script shows nothing; these places have no layout of their own. */
const withoutLayout = ['script', 'shared']

test('every component of a page can be laid out in two ways or more', () => {
  const lacking = content.filter((type) => {
    const layouts = Object.keys(componentTypes.get(type)?.fields.arrangement?.choices ?? {})
    return layouts.length < 2 && !withoutLayout.includes(type)
  })
  expect(lacking).toEqual([])
})

test('a heading can be pressed where it leads somewhere, and a button always', () => {
  const node = (type: string, props: Record<string, string>) => ({ type, props, children: [] })
  expect(
    [
      node('heading', {}),
      node('heading', { link: '' }),
      node('heading', { link: 'page:plans' }),
      node('button', {}),
      node('constructor', {}),
    ].map(isPressable),
  ).toEqual([false, false, true, true, false])
})
