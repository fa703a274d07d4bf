import * as real from './node_modules/fast-check/lib/cjs/fast-check.js'

/*
 * Laws as they are tried for changed lines. One that fails is enough to know: its smallest example is not looked for, which
 * would take a minute for each change. And one that is tried sixty times for each of thousands of changes notices nearly as
 * much as one that is tried a thousand times; what is found so is at least what is true.
 */
const MOST_RUNS = 60
const assert = <Ts>(law: real.IRawProperty<Ts>, of: real.Parameters<Ts> = {}) =>
  real.assert(law, { ...of, numRuns: Math.min(MOST_RUNS, of.numRuns ?? MOST_RUNS), endOnFailure: true })

export * from './node_modules/fast-check/lib/cjs/fast-check.js'
const shorter = { ...real, assert }
export { assert, shorter as default }
