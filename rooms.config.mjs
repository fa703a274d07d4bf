/** Who may import whom. Each room, and the rooms that it may look into; besides, nothing imports in a circle. */
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
      'server/stores/heard.ts',
      'server/stores/events.ts',
      'server/stores/form-entries.ts',
      'server/stores/media.ts',
      'server/stores/releases.ts',
      'server/stores/left-out.ts',
      'server/stores/looks.ts',
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

/** @type {import('dependency-cruiser').IConfiguration} */
const config = {
  forbidden: [
    ...rooms.map(({ room, may }) => ({
      name: `what-${room}-may-import`,
      comment: `src/${room} may import from ${may.length === 0 ? 'itself only' : may.join(', ')}.`,
      severity: 'error',
      from: { path: `^src/${room}/` },
      to: { path: '^src/', pathNot: [room, ...may].map((path) => `^src/${path}${path.endsWith('.ts') ? '$' : '/'}`) },
    })),
    {
      name: 'no-circles',
      comment: 'Two things that need each other are one thing, or want a third.',
      severity: 'error',
      from: {},
      to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } },
    },
    {
      name: 'what-is-not-there',
      comment: 'An import that leads nowhere.',
      severity: 'error',
      from: { path: '^src/' },
      to: { couldNotResolve: true },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'require', 'node', 'default', 'types'] },
  },
}

export default config
