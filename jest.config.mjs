/** @type {import('jest').Config} */
export default {
  testEnvironment: 'node',
  // No test is about time: a busy machine may take several times as long.
  testTimeout: 120_000,
  // Looked up in the sandbox at every use otherwise, which makes computation ten times slower.
  sandboxInjectedGlobals: ['Math', 'Float64Array', 'Number', 'Array'],
  testMatch: [
    '<rootDir>/src/**/*.test.ts',
    '<rootDir>/tests/references/**/*.test.ts',
    '<rootDir>/tests/{server,cli,docs}/**/*.test.ts',
  ],
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/src/$1' },
  transform: {
    // These come as ES modules only.
    '^.+\\.tsx?$|/(@noble|ml-[a-z-]+|is-any-array)/.+\\.js$': [
      '@swc/jest',
      { jsc: { target: 'es2022', parser: { syntax: 'typescript' } } },
    ],
  },
  transformIgnorePatterns: ['/node_modules/(?!@noble/|ml-|is-any-array)'],
};
