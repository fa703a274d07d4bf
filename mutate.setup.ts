import { bind } from 'jest-each'
import { expect } from 'expect'
import { fn, spyOn } from 'jest-mock'
import { createRequire } from 'node:module'

/*
 * The unit tests for a runner that loads them once and runs them anew for each changed line: what they call by the names of
 * the usual runner, which loads them again each time and takes ten times as long, is here.
 */
type Named = (name: string, run: () => unknown) => unknown
const withEach = (named: Named) => Object.assign(named, { each: bind(named as never) })

/** The runner says its own names before each file. */
function renamed(name: 'it' | 'describe', ...also: string[]): void {
  let named: unknown
  for (const one of [name, ...also])
    Object.defineProperty(globalThis, one, {
      get: () => named,
      set: (value: Named) => (named = withEach(value)),
    })
}
renamed('it', 'test')
renamed('describe')
for (const [usual, own] of [
  ['beforeAll', 'before'],
  ['afterAll', 'after'],
] as const)
  Object.defineProperty(globalThis, usual, { get: () => (globalThis as Record<string, unknown>)[own] })
Object.assign(globalThis, { expect, jest: { fn, spyOn } })

/*
 * Laws as they are tried for changed lines. One that fails is enough to know: its smallest example is not looked for, which
 * would take a minute for each change. And one that is tried sixty times for each of thousands of changes notices nearly as
 * much as one that is tried a thousand times; what is found so is at least what is true.
 */
const MOST_RUNS = 60
const load = createRequire(`${process.cwd()}/`)
const place = load.resolve('fast-check')
const real = load(place) as typeof import('fast-check')
const assert = <Ts>(law: import('fast-check').IRawProperty<Ts>, of: import('fast-check').Parameters<Ts> = {}) =>
  real.assert(law, { ...of, numRuns: Math.min(MOST_RUNS, of.numRuns ?? MOST_RUNS), endOnFailure: true })
const found = load.cache[place]
if (found !== undefined) found.exports = { ...real, assert, default: { ...real.default, assert } }
