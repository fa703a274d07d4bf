import { createRequire } from 'node:module'
import config from './jest.config.mjs'

const unit = config.projects.find(({ displayName }) => displayName === 'unit')
const tests = process.env.TESTS ?? 'src/{core,components,site}'

/**
 * The unit tests of what is pure, as one project: each of them is known by what it runs. `TESTS=src/core/ledger npm run mutate …`
 * asks what a room’s own tests notice, in a tenth of the time: all that import it need not be loaded for each change. Files are
 * named as well: `TESTS='src/core/experiment/{guard,reading}.test.ts'`.
 */
const configuration = {
  ...unit,
  moduleNameMapper: {
    ...unit.moduleNameMapper,
    '^fast-check$': '<rootDir>/mutate.fast-check.ts',
    // Wherever the changed project stands, what is installed stands where it did.
    '^\\./node_modules/fast-check/': createRequire(import.meta.url).resolve('fast-check'),
  },
  testMatch: [`<rootDir>/${tests}${tests.endsWith('.ts') ? '' : '/**/*.test.{ts,tsx}'}`],
}

export default configuration
