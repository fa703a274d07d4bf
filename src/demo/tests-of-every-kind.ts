import type { Edit } from '@/core/document'
import type { NodeId } from '@/core/ids'
import type { DemoTest } from './demo-test'

const set = (node: string, prop: string, value: string): Edit => ({ kind: 'set', node: node as NodeId, prop, value })
/** The same people come to two tests. */
const LOOKED_AT_INSTRUMENTS = 1006
const script = 'document.querySelector("h1").textContent += " Two places are free."'

/** One test of every kind of thing that can vary, beside those of single components. */
export const testsOfEveryKind: readonly DemoTest[] = [
  {
    name: 'The title of the instruments, and how they are laid out',
    parts: [
      {
        document: 'instruments',
        node: 'instruments-title',
        variants: [
          { name: 'A promise', edits: [set('instruments-title', 'words', 'There is one here that suits you')] },
          { name: 'A question', edits: [set('instruments-title', 'words', 'Which one will it be?')] },
        ],
      },
      {
        document: 'instruments',
        node: 'instruments-list',
        variants: [{ name: 'In rows', edits: [set('instruments-list', 'arrangement', 'rows')] }],
      },
    ],
    problem: 'Half of those who open the list leave it without opening an instrument.',
    change: 'Another title, another layout, or both.',
    expected: 'More people go on to the plans.',
    goal: 'plans-seen',
    status: 'running',
    rates: [0.3, 0.33, 0.31, 0.345, 0.3, 0.32],
    wanders: {
      presses: ['instruments-card-5', 'instruments-card-4', 'instruments-button-22', 'instruments-title'],
      next: ['cello', 'violin', 'about', 'harp'],
      slower: [1, 1.45, 1, 1.45, 1, 1.45],
    },
    ...{ visitors: 9000, seed: LOOKED_AT_INSTRUMENTS },
    days: 12,
    smallestEffect: 0.15,
  },
  {
    name: 'Rounder, darker buttons on every instrument',
    parts: [
      {
        document: 'instrument-buttons',
        node: 'instrument-buttons-root',
        variants: [
          {
            name: 'Dark and square',
            edits: [
              set(
                'instrument-buttons-root',
                'css',
                '.button {\n  border-radius: 0.3rem;\n  background: #16302c;\n  color: #f8f1e3;\n}\n',
              ),
            ],
          },
        ],
      },
    ],
    problem: 'The button disappears between the strings.',
    change: 'Make it darker on all ten pages at once.',
    expected: 'More people reserve.',
    goal: 'reserved',
    watched: ['way-to-reserve'],
    status: 'running',
    rates: [0.08, 0.083],
    wanders: { page: 'cello', presses: ['cello-reserve', 'cello-title'], next: ['reserve', 'plans', 'instruments'] },
    // Who looked at the list of instruments looks at one of them some days later.
    ...{ visitors: 5200, seed: LOOKED_AT_INSTRUMENTS },
    days: 9,
    smallestEffect: 0.15,
  },
  {
    name: 'What the trial lesson promises',
    parts: [
      {
        document: 'ask-trial-lesson',
        node: 'ask-trial-lesson-root',
        variants: [
          { name: 'Forty minutes', edits: [set('ask-trial-lesson-root', 'title', 'Forty minutes, three instruments')] },
          { name: 'As a card', edits: [set('ask-trial-lesson-root', 'arrangement', 'card')] },
        ],
      },
    ],
    problem: 'Everybody reads it and few press it.',
    change: 'Say what one gets, or show it otherwise.',
    expected: 'More lessons are booked.',
    goal: 'lesson-booked',
    campaign: 'First notes',
    status: 'running',
    rates: [0.05, 0.068, 0.05],
    ...{ visitors: 6400, known: 0.35, follows: 1500 },
    days: 11,
    smallestEffect: 0.2,
  },
  {
    name: 'A cello in January, as the journal lists it',
    parts: [
      {
        document: 'article-january',
        node: 'article-january-root',
        variants: [
          {
            name: 'A question',
            edits: [
              set('article-january-root', 'listTitle', 'Is your cello thirsty?'),
              set('article-january-root', 'teaser', 'It buzzes since the heating is on. What to do before the seam opens.'),
            ],
          },
        ],
      },
    ],
    problem: 'It is read less than it is worth.',
    change: 'Ask instead of telling.',
    expected: 'More people open it.',
    goal: 'january-read',
    campaign: 'Dry January',
    status: 'running',
    rates: [0.22, 0.3],
    visitors: 1400,
    days: 10,
    before: {
      edits: [set('article-january-root', 'listTitle', 'What does your cello say in January?')],
      ...{ rates: [0.22, 0.215], visitors: 1100, days: 9 },
    },
    smallestEffect: 0.2,
  },
  {
    name: 'Schools: a list or a letter',
    parts: [
      {
        document: 'schools',
        node: 'schools-root',
        variants: [{ name: 'The letter', edits: [set('schools-root', 'route', 'page:schools-letter')] }],
      },
    ],
    problem: 'Head teachers do not write to us.',
    change: 'Send half of them to a page that reads like a letter.',
    expected: 'More of them write.',
    goal: 'wrote',
    status: 'running',
    rates: [0.06, 0.072],
    visitors: 1900,
    days: 14,
    smallestEffect: 0.25,
  },
  {
    name: 'The main menu, with reserving first',
    parts: [
      {
        document: 'main-menu',
        node: 'main-menu-root',
        variants: [
          {
            name: 'Borrow first',
            edits: [
              set('main-menu-menuitem-1', 'words', 'Borrow one'),
              {
                kind: 'move',
                node: 'main-menu-menuitem-12' as NodeId,
                parent: 'main-menu-root' as NodeId,
                after: 'main-menu-menuitem-1' as NodeId,
              },
            ],
          },
        ],
      },
    ],
    problem: 'Nobody finds the plans from a telephone.',
    change: 'Put what most people want at the beginning.',
    expected: 'More people look at the plans.',
    goal: 'plans-seen',
    status: 'draft',
  },
  {
    name: 'The voice of a customer, left away',
    parts: [
      {
        document: 'home',
        node: 'home-said',
        variants: [{ name: 'Without it', edits: [{ kind: 'remove', node: 'home-said' as NodeId }] }],
      },
    ],
    problem: 'The page is long.',
    change: 'Leave the section with the quotation away.',
    expected: 'Nothing gets worse.',
    goal: 'plans-seen',
    status: 'draft',
  },
  {
    name: 'How it goes, before the list of workshops',
    parts: [
      {
        document: 'workshops',
        node: 'workshops-how-section',
        variants: [
          {
            name: 'Right after the title',
            edits: [
              {
                kind: 'move',
                node: 'workshops-how-section' as NodeId,
                parent: 'workshops-main' as NodeId,
                after: 'workshops-section-1' as NodeId,
              },
            ],
          },
        ],
      },
    ],
    problem: 'People ask what to bring, though it stands there.',
    change: 'Say how it goes before naming the evenings.',
    audience: {
      kind: 'all',
      of: [
        { kind: 'returning', returning: false },
        { kind: 'device', device: 'phone' },
      ],
    },
    expected: 'More people write to us.',
    goal: 'wrote',
    status: 'draft',
  },
  {
    name: 'The story of Pinemoth, told shorter',
    parts: [
      {
        document: 'about',
        node: 'about-root',
        variants: [
          {
            name: 'Only the story',
            edits: [set('about-root', 'title', 'A library with a workshop'), { kind: 'remove', node: 'about-towns' as NodeId }],
          },
        ],
      },
    ],
    problem: 'The page says everything, so nobody reads it.',
    change: 'Another page, with less on it.',
    expected: 'More people look at the plans.',
    goal: 'plans-seen',
    status: 'draft',
  },
  {
    name: 'Opening hours, said as an invitation',
    parts: [
      {
        document: 'opening-hours',
        node: 'opening-hours-title',
        variants: [{ name: 'Come by', edits: [set('opening-hours-title', 'words', 'Come by, the kettle is on')] }],
      },
    ],
    problem: 'Opening hours sound like a shop.',
    change: 'Invite people instead.',
    expected: 'More people write to us.',
    goal: 'wrote',
    status: 'draft',
  },
  {
    name: 'Free places, counted by a script',
    parts: [
      {
        document: 'workshops',
        node: 'workshops-title',
        variants: [
          {
            name: 'With free places',
            edits: [
              {
                kind: 'insert',
                parent: 'workshops-section-1' as NodeId,
                after: 'workshops-title' as NodeId,
                tree: {
                  root: 'workshops-places-script' as NodeId,
                  nodes: { 'workshops-places-script': { type: 'script', props: { code: script }, children: [] } },
                },
              },
            ],
          },
        ],
      },
    ],
    problem: 'Nobody knows how many places are left.',
    change: 'Write it into the title.',
    expected: 'More people write to us.',
    goal: 'wrote',
    status: 'draft',
  },
]
