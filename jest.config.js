/** One configuration, two projects: fast units anywhere, and server tests that need the private database. */
const compiled = (tsx) => [
  '@swc/jest',
  {
    jsc: {
      target: 'es2022',
      parser: { syntax: 'typescript', tsx, decorators: true },
      transform: {
        legacyDecorator: true,
        decoratorMetadata: true,
        ...(tsx ? { react: { runtime: 'automatic' } } : {}),
      },
    },
    module: { type: 'es6' },
  },
];

const shared = {
  testEnvironment: 'node',
  testEnvironmentOptions: { customExportConditions: ['lantern-source', 'node', 'node-addons'] },
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  moduleNameMapper: { '^(\\.{1,2}/.*)\\.js$': '$1' },
  transform: { '^.+\\.ts$': compiled(false), '^.+\\.tsx$': compiled(true) },
  modulePathIgnorePatterns: ['/dist/', '/\\.data/', '/\\.build/'],
};

export default {
  // Machines that do other work beside the tests are slow, not wrong.
  testTimeout: 60_000,
  projects: [
    {
      ...shared,
      displayName: 'unit',
      testMatch: [
        '<rootDir>/packages/**/*.test.ts',
        '<rootDir>/demo/**/*.test.ts',
        '<rootDir>/apps/web/src/**/*.test.ts',
        '<rootDir>/apps/cli/src/**/*.test.ts',
        '<rootDir>/apps/reader/src/**/*.test.ts',
        '<rootDir>/apps/server/src/**/*.test.ts',
        '<rootDir>/scripts/**/*.test.mjs',
      ],
      moduleFileExtensions: ['ts', 'tsx', 'js', 'mjs', 'json'],
    },
    {
      ...shared,
      displayName: 'unit',
      testEnvironment: '<rootDir>/scripts/lib/browser-environment.mjs',
      testEnvironmentOptions: { customExportConditions: ['lantern-source', 'browser'] },
      testMatch: ['<rootDir>/apps/web/src/**/*.test.tsx'],
      setupFilesAfterEnv: ['<rootDir>/scripts/lib/patient-screens.mjs'],
    },
    {
      ...shared,
      displayName: 'server',
      testMatch: ['<rootDir>/apps/server/test/**/*.test.ts', '<rootDir>/apps/reader/test/**/*.test.ts'],
    },
  ],
};
