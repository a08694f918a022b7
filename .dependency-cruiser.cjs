/** Which layer may import which; the arrow of every import points downwards. See docs/decisions/0001-layers.md. */
const below = (name, from, allowed) => ({
  name,
  severity: 'error',
  from: { path: `^src/${from}/`, pathNot: '\\.test\\.tsx?$' },
  to: { path: '^(src|demo|bench|tests)/', pathNot: `^src/(${[from, ...allowed].join('|')})/` },
});

module.exports = {
  forbidden: [
    { name: 'no-circular', severity: 'error', from: {}, to: { circular: true } },
    below('core-stands-alone', 'core', []),
    {
      name: 'core-has-few-packages',
      severity: 'error',
      from: { path: '^src/core/', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['npm', 'npm-dev', 'core'], pathNot: 'node_modules/zod/' },
    },
    below('formats-import-core', 'formats', ['core']),
    below('workers-import-core-and-formats', 'workers', ['core', 'formats']),
    { ...below('server-imports-core-and-formats', 'server', ['core', 'formats', 'workers']) },
    below('cli-imports-below', 'cli', ['core', 'formats', 'server']),
    below('ui-imports-core', 'ui', ['core']),
    below('features-import-ui-and-core', 'features', ['core', 'ui']),
    below('app-joins', 'app', ['core', 'formats', 'server', 'ui', 'features']),
    {
      name: 'migrations-stand-alone',
      severity: 'error',
      from: { path: '^src/server/database/migrations/' },
      to: { path: '^src/' },
    },
    {
      name: 'nothing-imports-demo-bench-tests',
      severity: 'error',
      from: { path: '^src/', pathNot: '\\.test\\.tsx?$' },
      to: { path: '^(demo|bench|tests)/' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'types', 'node', 'default'] },
  },
};
