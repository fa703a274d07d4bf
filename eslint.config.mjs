import next from 'eslint-config-next'
import nextTypescript from 'eslint-config-next/typescript'

const config = [
  {
    ignores: [
      '.next/**',
      'dist/**',
      '.sprig/**',
      '.mutants/**',
      'public/look/**',
      'next-env.d.ts',
      'test-results/**',
      'playwright-report/**',
    ],
  },
  ...next,
  ...nextTypescript,
  {
    files: ['**/*.ts', '**/*.tsx'],
    rules: {
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
      'no-restricted-imports': ['error', { patterns: ['react*', 'next*', 'knex', 'node:*', 'fs', 'path'] }],
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
