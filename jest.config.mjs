export default {
  testEnvironment: 'node',
  // A test that hangs ends; how long one takes on a busy machine is no matter of tests.
  testTimeout: 180_000,
  // Every core has a worker: most of what tests wait for is computing.
  maxWorkers: '100%',
  testEnvironmentOptions: { globalsCleanup: 'on' },
  testMatch: [
    '<rootDir>/src/**/*.test.ts',
    '<rootDir>/tests/**/*.test.ts',
    '<rootDir>/demo/**/*.test.ts',
    '<rootDir>/stand-ins/**/*.test.ts',
  ],
  setupFiles: ['<rootDir>/tests/setup.ts'],
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/src/$1' },
  // Packages that are modules alone.
  transformIgnorePatterns: ['/node_modules/(?!oauth4webapi/)'],
  transform: {
    '^.+\\.[jt]sx?$': [
      '@swc/jest',
      {
        jsc: {
          target: 'es2016',
          parser: { syntax: 'typescript', decorators: true, tsx: true },
          transform: { legacyDecorator: true, decoratorMetadata: true },
        },
      },
    ],
  },
};
