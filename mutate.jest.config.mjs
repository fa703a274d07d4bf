import config from './jest.config.mjs'

/** The unit tests of what is pure, as one project: each of them is known by what it runs. */
const configuration = {
  ...config.projects.find(({ displayName }) => displayName === 'unit'),
  testMatch: ['<rootDir>/src/{core,components,site}/**/*.test.{ts,tsx}'],
}

export default configuration
