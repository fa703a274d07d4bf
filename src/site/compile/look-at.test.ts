import { documentSchema, type ContentDocument, type Edit } from '@/core/document'
import type { DocumentId, NodeId, TestId } from '@/core/ids'
import { releaseSchema } from '@/core/release'
import { lookAt } from './look-at'

type Raw = { type: string; props: Record<string, string>; children: string[] }
const node = (type: string, props: Raw['props'] = {}, children: string[] = []): Raw => ({ type, props, children })
const parsed = (id: string, kind: string, root: string, nodes: Record<string, Raw>): ContentDocument =>
  documentSchema.parse({ id, kind, root, nodes })
const call = parsed('call', 'callToAction', 'call-root', {
  'call-root': node('callToActionText', { title: 'Reserve', buttonWords: 'Go', link: 'page:plans', marker: 'reserve' }),
})
const style = parsed('style', 'style', 'style-root', {
  'style-root': node('style', { title: 'Buttons', reach: 'every', part: 'button', css: '' }),
})
const front = parsed('front', 'page', 'root', {
  root: node('page', { title: 'Front', path: '/' }, ['main']),
  main: node('mainPart', {}, ['part']),
  part: node('section', {}, ['title', 'go', 'banner', 'form']),
  title: node('heading', { words: 'Hello' }),
  go: node('button', { words: 'See plans', link: 'page:plans', marker: 'plans' }),
  banner: node('callToAction', { callToAction: 'call', marker: 'reserve' }),
  form: node('form', { next: 'page:plans' }, ['field']),
  field: node('formField', { label: 'Name', name: 'name' }),
})
const plans = parsed('plans', 'page', 'plans-root', {
  'plans-root': node('page', { title: 'Plans', path: '/plans' }, ['plans-main']),
  'plans-main': node('mainPart', {}, ['plans-part']),
  'plans-part': node('section', {}, ['plans-title']),
  'plans-title': node('heading', { words: 'Plans' }),
})

const set = (target: string, prop: string, value: string): Edit => ({ kind: 'set', node: target as NodeId, prop, value })
const remove = (target: string): Edit => ({ kind: 'remove', node: target as NodeId })
const round = (test: string, document: string, target: string, edits: Edit[]) => ({
  id: `${test}-r1`,
  test,
  number: 1,
  design: {
    name: 'T',
    problem: '',
    change: '',
    expected: '',
    document,
    node: target,
    arms: [
      { version: 'original', weight: 5000 },
      { version: 'v', weight: 5000 },
    ],
    share: 10_000,
    primary: null,
    watched: [],
    smallestEffect: 0.05,
  },
  versions: [{ id: 'v', name: 'V', edits }],
  goals: [],
  salt: test,
  plannedTotal: 100,
  paused: false,
})

/** The front page as the variant shows it, beside what the original shows. */
function look(rounds: ReturnType<typeof round>[], documents = [front, plans, call, style]) {
  const release = releaseSchema.parse({ documents, rounds, personalizations: [], goals: [] })
  const { pages, hides } = lookAt({
    release,
    test: 't-1' as TestId,
    pages: ['front' as DocumentId],
    origin: 'https://pinemoth.example',
  })
  const [original, variant] = pages
  if (original === undefined || variant === undefined) throw new Error('two versions were expected')
  return { original, variant, hides }
}

test('what is shown can be pressed, sent and seen; what shows nothing keeps its place and can not', () => {
  const { original, variant } = look([round('t-1', 'front', 'banner', [set('banner', 'callToAction', '')])])
  expect([original.pressed.has('banner'), original.sent.has('form'), original.seen.has('title')]).toEqual([true, true, true])
  expect([...original.markers].sort()).toEqual(['plans', 'reserve'])
  expect([variant.placed.has('banner'), variant.pressed.has('banner'), [...variant.markers]]).toEqual([true, false, ['plans']])
})

test.each<[string, string, boolean]>([
  ['a page of the site', 'page:plans', true],
  ['the same by its whole address', 'https://pinemoth.example/plans', true],
  ['another site, which nobody knows of', 'https://other.example/x', true],
  ['a place on the page', '#part', true],
  ['no place on the page', '#nowhere', false],
  ['a page that is not published', 'page:gone', false],
  ['an address of this site where nothing is', 'https://pinemoth.example/gone', false],
  ['nothing', '', false],
])('a link to %s', (_, link, answers) => {
  const { variant } = look([round('t-1', 'front', 'go', [set('go', 'link', link)])])
  expect(variant.links.find(({ words }) => words === 'See plans')?.answers).toBe(answers)
})

test('a style of a variant that takes a part out of sight is seen for what it does', () => {
  const { original, variant } = look([round('t-1', 'style', 'style-root', [set('style-root', 'css', 'a { display: NONE }')])])
  expect([original.pressed.has('go'), variant.pressed.has('go'), variant.markers.has('plans')]).toEqual([true, false, false])
  const passing = look([round('t-1', 'style', 'style-root', [set('style-root', 'css', 'a:hover { opacity: 0 }')])])
  expect(passing.variant.pressed.has('go')).toBe(true)
})

test('a blank page is seen, and a route shows the page that it leads to', () => {
  expect(look([round('t-1', 'front', 'root', [remove('part')])]).variant.blank).toBe(true)
  const { variant } = look([round('t-1', 'front', 'root', [set('root', 'route', 'page:plans')])])
  expect([variant.blank, variant.page, variant.seen.has('plans-title'), variant.seen.has('title')]).toEqual([
    false,
    'front',
    true,
    false,
  ])
})

describe('the ways from a page', () => {
  const thanks = parsed('thanks', 'page', 'thanks-root', { 'thanks-root': node('page', { title: 'Thanks', path: '/thanks' }) })
  const menu = parsed('menu', 'menu', 'menu-root', {
    'menu-root': node('menuRoot', {}, ['entry']),
    entry: node('menuItem', { words: 'About', link: 'page:about' }),
  })
  const about = parsed('about', 'page', 'about-root', { 'about-root': node('page', { title: 'About', path: '/about' }) })
  const asking = documentSchema.parse({
    ...front,
    nodes: {
      ...front.nodes,
      form: { ...front.nodes['form' as NodeId], type: 'form', props: { next: 'page:thanks' }, children: ['field'] },
    },
  })
  const ways = (
    edits: Edit[],
    documents = [asking, plans, thanks, about, menu, call, style],
    walked: readonly string[] | null = null,
  ) => {
    const release = releaseSchema.parse({
      documents,
      rounds: [round('t-1', 'front', 'root', edits)],
      personalizations: [],
      goals: [],
    })
    const found = lookAt({
      release,
      test: 't-1' as TestId,
      pages: ['front' as DocumentId],
      walked: walked as DocumentId[] | null,
      origin: 'https://pinemoth.example',
    })
    return { to: found.ways.map(({ pages }) => [...pages].sort()), same: found.same }
  }

  test('lead by links and forms, and by what those pages lead to; a variant without the form leads nowhere after it', () => {
    expect(ways([set('title', 'words', 'Hi')]).to).toEqual([
      ['front', 'plans', 'thanks'],
      ['front', 'plans', 'thanks'],
    ])
    expect(ways([remove('form')]).to[1]).toEqual(['front', 'plans'])
    expect(ways([set('form', 'next', 'page:about')]).to[1]).toEqual(['about', 'front', 'plans'])
    expect(ways([set('form', 'buttonWords', '')]).to[0]).toContain('thanks')
    // Another page leads there as well: that is a way, too.
    const linking = documentSchema.parse({
      ...plans,
      nodes: { ...plans.nodes, 'plans-title': node('button', { words: 'Thanks', link: 'page:thanks' }) },
    })
    const more = [asking, linking, thanks, about, menu, call, style]
    expect(ways([remove('form')], more).to[1]).toEqual(['front', 'plans', 'thanks'])
    // As far as visitors have come lately: nobody goes on from a page to which nobody comes.
    expect(ways([remove('form')], more, ['front', 'plans']).to[1]).toEqual(['front', 'plans', 'thanks'])
    expect(ways([remove('form')], more, ['front']).to[1]).toEqual(['front', 'plans'])
  })

  test('a form that leads to another page than the original’s is a link that leads elsewhere', () => {
    const { variant } = look([round('t-1', 'front', 'form', [set('form', 'next', 'page:gone')])])
    expect(variant.links.at(-1)?.answers).toBe(false)
  })

  test('a circle that only another test that runs closes is found, one that was there before is not the test’s', () => {
    const back = round('t-2', 'plans', 'plans-root', [set('plans-root', 'route', 'page:front')])
    const circle = (edits: Edit[], documents = [front, plans, call, style]) =>
      lookAt({
        release: releaseSchema.parse({
          documents,
          rounds: [round('t-1', 'front', 'root', edits), back],
          personalizations: [],
          goals: [],
        }),
        ...{ test: 't-1' as TestId, pages: ['front' as DocumentId], origin: 'https://pinemoth.example' },
      }).circle
    expect(circle([set('root', 'route', 'page:plans')])).toEqual(['Front', 'Plans', 'Front'])
    expect(circle([set('title', 'words', 'Hi')])).toBeNull()
  })

  test('a version that sets what is there already, or what nobody sees, is the same as the original', () => {
    expect(ways([set('title', 'align', 'start')]).same).toEqual([{ version: 'v', as: 'original' }])
    expect(ways([set('title', 'words', 'Hello')]).same).toEqual([{ version: 'v', as: 'original' }])
    expect(ways([set('title', 'words', 'Hi')]).same).toEqual([])
    expect(ways([set('root', 'route', 'page:plans')]).same).toEqual([])
  })
})

describe('under a rule', () => {
  const welcome = set('title', 'words', 'Welcome back')
  const rule = (edits: Edit[]) => ({
    ...{ id: 'front.title', document: 'front', node: 'title', holdout: 1000 },
    rules: [{ version: { id: 'w', name: 'Known', edits }, condition: { kind: 'returning', returning: true } }],
  })
  const sameUnder = (ruled: Edit[], tested: Edit[]) =>
    lookAt({
      release: releaseSchema.parse({
        documents: [front, plans, call, style],
        rounds: [round('t-1', 'front', 'title', tested)],
        personalizations: [rule(ruled)],
        goals: [],
      }),
      ...{ test: 't-1' as TestId, pages: ['front' as DocumentId], origin: 'https://pinemoth.example' },
    }).sameByRule

  test('a version that is the rule’s own cannot be told from it, nor can one whose part the rule takes away', () => {
    const found = [{ version: 'v', rule: 'Known', condition: { kind: 'returning', returning: true } }]
    expect(sameUnder([welcome], [welcome])).toEqual(found)
    expect(sameUnder([remove('title')], [set('title', 'words', 'Good day')])).toEqual(found)
  })

  test('one that changes what the rule leaves can', () => {
    expect(sameUnder([welcome], [welcome, set('title', 'level', 'h3')])).toEqual([])
    expect(sameUnder([welcome], [set('title', 'words', 'Good day')])).toEqual([])
  })
})

test('another test is met where either takes the other’s part away in some version, and not where both are always there', () => {
  const heading = round('t-2', 'front', 'title', [set('title', 'words', 'Good day')])
  expect(look([round('t-1', 'front', 'root', [remove('part')]), heading]).hides).toEqual(['t-2'])
  expect(look([round('t-1', 'front', 'go', [set('go', 'words', 'Plans')]), heading]).hides).toEqual([])
  // Not this one's version hides the other, but the other's hides this one.
  const hiding = round('t-2', 'front', 'part', [remove('title')])
  expect(look([round('t-1', 'front', 'title', [set('title', 'words', 'Good day')]), hiding]).hides).toEqual(['t-2'])
  const other = round('t-2', 'call', 'call-root', [set('call-root', 'title', 'Now')])
  expect(look([round('t-1', 'front', 'banner', [set('banner', 'callToAction', '')]), other]).hides).toEqual(['t-2'])
})
