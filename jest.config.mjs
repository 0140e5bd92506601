/** Packages that do the most of the work in tests; see bin/lib/jest-transform.mjs. */
const BUSY = [
  'three',
  'three-mesh-bvh',
  'manifold-3d',
  'mediabunny',
  'yaml',
  'fast-check',
  'pure-rand',
  'zod',
];

/** Unit tests run on ES modules; only what is TypeScript is transformed. */
export default {
  testMatch: ['src', 'demo', 'bin'].map((folder) => `<rootDir>/${folder}/**/*.test.ts`),
  testEnvironment: 'node',
  setupFilesAfterEnv: ['<rootDir>/bin/lib/jest-setup.mjs'],
  globalSetup: '<rootDir>/bin/lib/test-cluster.mjs',
  globalTeardown: '<rootDir>/bin/lib/test-cluster-end.mjs',
  extensionsToTreatAsEsm: ['.ts'],
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/src/$1' },
  transform: {
    [`(^.+\\.ts|/node_modules/(${BUSY.join('|')})/.+\\.(m?js|cjs))$`]: [
      '<rootDir>/bin/lib/jest-transform.mjs',
      { jsc: { parser: { syntax: 'typescript' }, target: 'es2022' }, module: { type: 'es6' } },
    ],
  },
  transformIgnorePatterns: [`/node_modules/(?!(${BUSY.join('|')})/)`],
  modulePathIgnorePatterns: ['<rootDir>/.next', '<rootDir>/.data'],
  // A bound for a busy machine of two cores that also makes databases and runs other programs; nothing takes this long when all is well.
  testTimeout: 120_000,
  maxWorkers: 2,
};
