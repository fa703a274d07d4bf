import { ORIGINAL } from '../../decide'
import type { ContentDocument, Edit } from '../../document'
import { goalSchema } from '../../goals'
import type { DocumentId, NodeId, VersionId } from '../../ids'
import { designSchema, scheduleSchema } from '..'
import type { ShownPage } from '..'
import type { ReadinessFacts } from './check'

/* A test that may start as it is, for the tests of what keeps one from it. */
export const bold = 'bold' as VersionId
export const page: ContentDocument = {
  id: 'home' as DocumentId,
  kind: 'page',
  root: 'root' as NodeId,
  nodes: {
    root: { type: 'page', props: {}, children: ['title', 'button'] as NodeId[] },
    title: { type: 'heading', props: { words: 'Play it first' }, children: [] },
    button: { type: 'button', props: {}, children: [] },
  },
}
export const words = (value: string): Edit => ({ kind: 'set', node: 'title' as NodeId, prop: 'words', value })
export const pressed = goalSchema.parse({
  id: 'pressed',
  name: 'Pressed',
  wiring: { kind: 'click', document: 'home', node: 'button' },
})
/** The page as both versions show it, each with what is other than usual. */
export const shownAs = (original: Partial<ShownPage> = {}, variant: Partial<ShownPage> = {}): ReadinessFacts['shown'] => ({
  pages: [[ORIGINAL, original] as const, [bold, variant] as const].map(([version, other]) => ({
    page: page.id,
    version,
    blank: false,
    placed: new Set(['root', 'title', 'button']),
    seen: new Set(['title', 'button']),
    pressed: new Set(['button']),
    sent: new Set<string>(),
    markers: new Set<string>(),
    links: [{ address: '/plans', words: 'Plans', answers: true }],
    ...other,
  })),
  hides: [],
  sameByRule: [],
  ways: [],
  same: [],
  circle: null,
  fault: null,
})
export const facts: ReadinessFacts = {
  shown: shownAs(),
  design: designSchema.parse({
    name: 'Heading',
    problem: 'Nobody reserves',
    change: 'Say what it costs',
    expected: '',
    document: 'home',
    node: 'title',
    arms: [
      { version: 'original', weight: 5000 },
      { version: 'bold', weight: 5000 },
    ],
    share: 10_000,
    primary: 'pressed',
    watched: [],
    smallestEffect: 0.05,
  }),
  versions: [{ id: bold, name: 'Bold', edits: [words('Borrow a cello')] }],
  goals: [pressed],
  published: new Map([[page.id, page]]),
  places: new Map(),
  scripts: { allowed: false, versions: [] },
  others: [],
  forecast: null,
  now: '2026-12-01T09:00',
  takenOfGroup: [],
  ofGroup: [],
}
export const change = (design: Partial<ReadinessFacts['design']>, rest: Partial<ReadinessFacts> = {}): ReadinessFacts => ({
  ...facts,
  ...rest,
  design: { ...facts.design, ...design },
})
export const at = (start: string | null, end: string | null) => scheduleSchema.parse({ start, end })
