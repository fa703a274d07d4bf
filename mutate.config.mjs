/*
 * How much the unit tests notice: every line of these rooms is changed in small ways, one at a time, and some test must fail.
 * Takes half an hour and more, so it is run by hand: `npm run mutate`, or `npm run mutate -- --mutate src/core/stats/*.ts`.
 */
const configuration = {
  testRunner: 'jest',
  // Which tests know of a file is asked where there are many of them; of a few named ones all are run.
  jest: {
    projectType: 'custom',
    configFile: 'mutate.jest.config.mjs',
    enableFindRelatedTests: process.env.TESTS === undefined,
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
