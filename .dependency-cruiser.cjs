/** Tests may look at anything. */
const TESTS = '(\\.test\\.ts$|^src/(core|media)/testing/)';

/** The layers, from the top down; each may use what is below it and nothing above. */
const LAYERS = ['app', 'ui', 'jobs', 'cli', 'server', 'db', 'platform', 'core'];

const down = LAYERS.map((layer, i) => ({
  name: `${layer}-only-down`,
  severity: 'error',
  comment: `src/${layer} may not use a layer above it`,
  from: { path: `^src/${layer}/`, pathNot: TESTS },
  to: { path: `^src/(${LAYERS.slice(0, i).join('|')})/` },
})).slice(1);

/** A medium has three doors: `core` may use what the core may, `node` what the platform may, `ui` what screens may. */
const DOORS = [
  ['core', '(app|ui|jobs|cli|server|db|platform)/', ['node', 'ui']],
  ['node', '(app|ui|jobs|cli|server|db)/', ['ui']],
  ['ui', '(app|jobs|cli)/', ['node']],
];
const media = [
  ...DOORS.map(([door, layers, doors]) => ({
    name: `media-${door}-only-down`,
    severity: 'error',
    from: { path: `^src/media/([^/]+/${door}/|${door}\\.tsx?$)`, pathNot: TESTS },
    to: {
      path: [`^src/${layers}`, ...doors.map((other) => `^src/media/([^/]+/${other}/|${other}\\.tsx?$)`)],
    },
  })),
  {
    name: 'media-core-is-pure',
    severity: 'error',
    from: { path: '^src/media/([^/]+/core/|(core|formats|head|ways?)\\.ts$)', pathNot: TESTS },
    to: { dependencyTypes: ['core'] },
  },
  {
    name: 'core-takes-pure-media',
    severity: 'error',
    from: { path: '^src/core/', pathNot: TESTS },
    to: { path: '^src/media/', pathNot: '^src/media/([^/]+/core/|(core|formats|head|ways?)\\.ts$)' },
  },
  {
    name: 'media-ui-takes-types-of-the-server',
    severity: 'error',
    from: { path: '^src/media/([^/]+/ui/|ui\\.tsx$)' },
    to: { path: '^src/(server|db|platform)/', dependencyTypesNot: ['type-only'] },
  },
];

module.exports = {
  forbidden: [
    ...down,
    {
      name: 'no-circles',
      severity: 'error',
      from: { path: '^src' },
      to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } },
    },
    {
      name: 'core-is-pure',
      severity: 'error',
      comment: 'bytes in, values out',
      from: { path: '^src/core/', pathNot: TESTS },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'core-has-no-interface',
      severity: 'error',
      from: { path: '^src/core/', pathNot: TESTS },
      to: { path: 'node_modules/(react|next|@mui|sequelize|pg)' },
    },
    {
      name: 'db-knows-only-itself',
      severity: 'error',
      from: { path: '^src/db/' },
      to: { path: '^src/(core|platform)/' },
    },
    {
      name: 'ui-takes-types-of-the-server',
      severity: 'error',
      from: { path: '^src/ui/' },
      to: { path: '^src/(server|db|platform|jobs|cli)/', dependencyTypesNot: ['type-only'] },
    },
    {
      name: 'cli-needs-no-database',
      severity: 'error',
      from: { path: '^src/cli/' },
      to: { path: '^src/(db|server|jobs)/' },
    },
    { name: 'demo-uses-nothing-of-src', severity: 'error', from: { path: '^demo/' }, to: { path: '^src/' } },
    {
      name: 'src-uses-nothing-of-the-demo',
      severity: 'error',
      from: { path: '^src/', pathNot: TESTS },
      to: { path: '^demo/' },
    },
    {
      name: 'stand-in-and-builder-apart',
      severity: 'error',
      comment: 'one mistake must not agree with itself',
      from: { path: '^demo/runtime/', pathNot: TESTS },
      to: { path: '^demo/world/' },
    },
    {
      name: 'through-the-door',
      severity: 'error',
      comment: 'a folder of the core is used through its index.ts',
      from: {
        path: '^src/(?!core/)',
        pathNot: [TESTS, '^src/media/[^/]+/core/formats\\.ts$', '^src/media/formats\\.ts$'],
      },
      to: { path: '^src/core/[^/]+/(?!index\\.ts$)[^/]+\\.ts$' },
    },
    ...media,
  ],
  options: {
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '\\.next' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'require', 'node', 'default', 'types'],
    },
  },
};
