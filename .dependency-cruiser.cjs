/**
 * Imports run one way (see docs/architecture.md), only public entries are imported from outside, and nothing
 * forms a cycle.
 */
const rooms = {
  core: [],
  engine: ['core'],
  'course-site': ['core'],
  demo: ['core', 'engine'],
  server: ['core', 'engine'],
  web: ['core'],
};
const names = Object.keys(rooms);

module.exports = {
  forbidden: [
    { name: 'no-cycles', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'no-unresolved',
      severity: 'error',
      from: { pathNot: '\\.vue$' },
      to: { couldNotResolve: true, pathNot: '^(vuetify/styles|@fontsource-variable|libheif-js)' },
    },
    ...names.map((name) => ({
      name: `${name}-imports-only-${rooms[name].join('-') || 'itself'}`,
      severity: 'error',
      from: { path: `^packages/${name}/src` },
      to: {
        path: `^packages/(${names.filter((other) => other !== name && !rooms[name].includes(other)).join('|')})/`,
      },
    })),
    ...names.map((name) => ({
      name: `${name}-by-its-public-entry`,
      severity: 'error',
      from: { pathNot: `^packages/${name}/` },
      to: { path: `^packages/${name}/src/(?!index\\.ts$)`, pathNot: '/test-support/' },
    })),
    {
      name: 'proof-knows-nothing-of-making',
      severity: 'error',
      from: { path: '^packages/engine/src/prove/' },
      to: { path: '^packages/engine/src/make/' },
    },
    {
      name: 'core-stays-pure',
      severity: 'error',
      from: { path: '^packages/core/src', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'no-orphan-tests-in-source',
      severity: 'error',
      from: { path: '^packages/[^/]+/src', pathNot: '(\\.test\\.ts$|/test-support/)' },
      to: { path: '(\\.test\\.ts$|/test-support/)' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)(dist|node_modules)/' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['source', 'import', 'node', 'default'],
      extensions: ['.ts', '.js', '.mjs', '.vue', '.json'],
    },
  },
};
