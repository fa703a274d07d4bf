const tests = (process.env.TESTS ?? 'src/core src/components src/site').split(' ')

/*
 * How much the unit tests notice: every line of these rooms is changed in small ways, one at a time, and some test must fail.
 * Takes half an hour and more, so it is run by hand: `npm run mutate`, or a room at a time by its own tests:
 * `TESTS=src/core/stats npm run mutate -- --mutate 'src/core/stats/*.ts'`. Files are named as well:
 * `TESTS='src/core/experiment/guard.test.ts src/core/experiment/weeks.test.ts'`. What a test file computes when it is loaded, and
 * not in a test, needs a new process for each change: fifty times as long.
 */
const configuration = {
  testRunner: 'mocha',
  mochaOptions: {
    require: ['tsx/cjs', './mutate.setup.ts'],
    spec: tests.map((one) => (/\.tsx?$/.test(one) ? one : `${one}/**/*.test.{ts,tsx}`)),
    ignore: ['**/*.db.test.ts'],
  },
  coverageAnalysis: 'perTest',
  // What is made once when a file is loaded would need all tests again for each change.
  ignoreStatic: true,
  concurrency: 2,
  tempDirName: '.mutants',
  incremental: true,
  incrementalFile: '.sprig/mutants.json',
  reporters: ['clear-text', 'progress-append-only'],
  clearTextReporter: { allowColor: false, logTests: false, reportTests: false },
  ignorePatterns: ['.next', 'dist', 'public/look', '.sprig', 'docs', 'e2e', 'bench'],
  // Words are read by people, and checked by reading.
  mutator: { excludedMutations: ['StringLiteral'] },
  mutate: [
    'src/core/{ledger,goals,decide,document,stats}/**/*.ts',
    'src/core/experiment/**/*.ts',
    'src/site/serve/*.ts',
    'src/components/style/scope.ts',
    'src/components/rich-text.ts',
    '!**/*.test.ts',
    '!**/index.ts',
  ],
}

export default configuration
