import next from 'eslint-config-next'
import nextTypescript from 'eslint-config-next/typescript'

/** Who may import whom. Each room, and the rooms it must not look into; what is not named here may be used. */
const rooms = [
  { room: 'core', may: [] },
  { room: 'serving', may: ['core'] },
  { room: 'contract', may: ['core'] },
  { room: 'components', may: ['core'] },
  {
    room: 'site',
    may: [
      'core',
      'components',
      'server/database',
      'server/stores/events.ts',
      'server/stores/form-entries.ts',
      'server/stores/media.ts',
      'server/stores/releases.ts',
      'server/stores/site-processes.ts',
      'serving',
    ],
  },
  {
    room: 'server',
    may: [
      'core',
      'contract',
      'components',
      'serving',
      'site/collect/report.ts',
      'site/collect/letter-events.ts',
      'site/collect/form-entry.ts',
    ],
  },
  { room: 'studio', may: ['core', 'contract', 'components'] },
  { room: 'jobs', may: ['core', 'contract', 'components', 'server', 'serving', 'site'] },
  { room: 'demo', may: ['core', 'contract', 'components', 'server', 'serving', 'site', 'jobs'] },
  { room: 'studio-server', may: ['serving'] },
  { room: 'reader', may: ['core', 'components', 'server', 'site/compile'] },
  { room: 'app', may: ['core', 'contract', 'components/exchange', 'server', 'serving', 'studio'] },
]

const zones = rooms.map(({ room, may }) => ({
  target: `./src/${room}`,
  from: './src',
  except: [`./${room}`, ...may.map((path) => `./${path}`)],
  message: `src/${room} may import from ${may.length === 0 ? 'itself only' : may.join(', ')}.`,
}))

const config = [
  { ignores: ['.next/**', 'dist/**', '.sprig/**', 'public/look/**', 'next-env.d.ts', 'test-results/**', 'playwright-report/**'] },
  ...next,
  ...nextTypescript,
  {
    files: ['**/*.ts', '**/*.tsx'],
    settings: { 'import/resolver': { typescript: true } },
    rules: {
      'import/no-restricted-paths': ['error', { zones }],
      'import/no-cycle': ['error', { ignoreExternal: true }],
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/consistent-type-imports': [
        'error',
        { fixStyle: 'separate-type-imports', disallowTypeAnnotations: false },
      ],
      'no-console': 'error',
      eqeqeq: ['error', 'always', { null: 'ignore' }],
    },
  },
  // The core computes: no framework, no clock, no chance, no input or output.
  {
    files: ['src/core/**/*.ts'],
    ignores: ['src/core/**/*.test.ts'],
    rules: {
      'no-restricted-imports': ['error', { patterns: ['react*', 'next*', 'knex', 'antd', 'node:*', 'fs', 'path'] }],
      'no-restricted-properties': [
        'error',
        { object: 'Math', property: 'random', message: 'Pass randomness in.' },
        { object: 'Date', property: 'now', message: 'Pass the moment in.' },
      ],
      'no-restricted-syntax': [
        'error',
        { selector: "NewExpression[callee.name='Date'][arguments.length=0]", message: 'Pass the moment in.' },
      ],
    },
  },
  { files: ['src/command/**', 'bench/**'], rules: { 'no-console': 'off' } },
  // The site's looks are static markup and plain pictures: no framework's image or link component.
  { files: ['src/components/**', 'src/studio/**'], rules: { '@next/next/no-img-element': 'off' } },
]

export default config
