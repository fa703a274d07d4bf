import nextJest from 'next/jest.js'

const esm = [
  'd3',
  'd3-[a-z-]+',
  'internmap',
  'delaunator',
  'robust-predicates',
  'parse5',
  'entities',
  'pure-rand',
  'isbot',
  'cookie',
  'temporal-polyfill',
  'temporal-utils',
]

const base = await nextJest({ dir: './' })({
  testEnvironment: 'node',
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/src/$1' },
})()
const shared = {
  ...base,
  modulePathIgnorePatterns: ['<rootDir>/.mutants'],
  transformIgnorePatterns: [`/node_modules/(?!(${esm.join('|')})/)`, '^.+\\.module\\.(css|sass|scss)$'],
}

const config = {
  // Those that count thousands of visitors take seconds on a busy machine.
  testTimeout: 60_000,
  projects: [
    {
      ...shared,
      displayName: 'unit',
      testMatch: ['<rootDir>/src/**/*.test.ts', '<rootDir>/src/**/*.test.tsx'],
      testPathIgnorePatterns: ['/node_modules/', '\\.db\\.test\\.ts$'],
    },
    { ...shared, displayName: 'database', testMatch: ['<rootDir>/src/**/*.db.test.ts'] },
  ],
}

export default config
