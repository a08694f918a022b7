/** Which layer and which room may import which; the arrow of every import points downwards. See docs/decisions/0014-house.md. */
const TEST = '\\.test\\.tsx?$';
const below = (name, from, allowed) => ({
  name,
  severity: 'error',
  from: { path: `^src/${from}/` },
  to: { path: '^(src|demo|bench|tests)/', pathNot: `^src/(${[from, ...allowed].join('|')})/` },
});

/** Rooms of a layer from the ground up: each may import those before it. */
const rooms = (layer, order) =>
  order.map((room, at) => ({
    name: `${layer}-room-${room}`,
    severity: 'error',
    from: { path: `^src/${layer}/${room}/` },
    to: { path: `^src/${layer}/`, pathNot: `^src/${layer}/(${order.slice(0, at + 1).join('|')})/` },
  }));

module.exports = {
  forbidden: [
    { name: 'no-circular', severity: 'error', from: {}, to: { circular: true } },
    { name: 'no-circular-folders', severity: 'error', scope: 'folder', from: { path: '^src' }, to: { circular: true } },
    below('core-stands-alone', 'core', []),
    {
      name: 'core-has-few-packages',
      severity: 'error',
      from: { path: '^src/core/' },
      to: { dependencyTypes: ['npm', 'npm-dev', 'core'], pathNot: 'node_modules/(zod|re2js)/' },
    },
    ...rooms('core', [
      'math',
      'errors',
      'text',
      'schema',
      'morphs',
      'waivers',
      'geometry',
      'clips',
      'rig',
      'definition',
      'frame',
      'dialect',
      'intake',
      'match',
      'posture',
      'motion',
      'house',
      'layers',
      'ground',
      'fit',
      'profile',
      'drill',
      'live',
      'plan',
      'repairs',
      'checks',
      'portrait',
    ]),
    ...rooms('core/match', [
      'names',
      'mirror',
      'witness',
      'context',
      'limbs',
      'trunk',
      'digits',
      'body',
      'spares',
      'verdict',
    ]),
    below('contract-imports-core', 'contract', ['core']),
    below('document-imports-core', 'document', ['core']),
    below('formats-import-document-and-core', 'formats', ['core', 'document']),
    below('pipeline-imports-below', 'pipeline', ['core', 'contract', 'document', 'formats']),
    below('workers-call-the-pipeline', 'workers', ['core', 'contract', 'formats', 'pipeline']),
    below('server-imports-below', 'server', ['core', 'contract', 'formats', 'pipeline', 'workers']),
    below('cli-imports-below', 'cli', ['core', 'contract', 'formats', 'pipeline', 'server']),
    below('ui-imports-core-and-contract', 'ui', ['core', 'contract']),
    below('features-import-ui-and-below', 'features', ['core', 'contract', 'ui', 'workers/browser']),
    below('app-joins', 'app', ['core', 'contract', 'server', 'ui', 'features']),
    {
      name: 'migrations-stand-alone',
      severity: 'error',
      from: { path: '^src/server/database/migrations/' },
      to: { path: '^src/' },
    },
    {
      name: 'nothing-imports-demo-bench-tests',
      severity: 'error',
      from: { path: '^src/' },
      to: { path: '^(demo|bench|tests)/' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    // Unit tests stand beside what they test and may import anything.
    exclude: { path: TEST },
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'types', 'node', 'default'] },
  },
};
