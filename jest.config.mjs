/** Unit tests run on ES modules; only what is TypeScript is transformed. */
export default {
  testMatch: ['src', 'demo', 'bin'].map((folder) => `<rootDir>/${folder}/**/*.test.ts`),
  testEnvironment: 'node',
  globalSetup: '<rootDir>/bin/lib/test-cluster.mjs',
  globalTeardown: '<rootDir>/bin/lib/test-cluster-end.mjs',
  extensionsToTreatAsEsm: ['.ts'],
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/src/$1' },
  transform: {
    '^.+\\.ts$': [
      '@swc/jest',
      { jsc: { parser: { syntax: 'typescript' }, target: 'es2022' }, module: { type: 'es6' } },
    ],
  },
  modulePathIgnorePatterns: ['<rootDir>/.next', '<rootDir>/.data'],
  // A busy machine of two cores also makes databases, and runs other programs for their known answers.
  testTimeout: 30_000,
  maxWorkers: 2,
};
