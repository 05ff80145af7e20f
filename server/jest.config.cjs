module.exports = {
  testEnvironment: 'node',
  testMatch: ['**/*.test.ts'],
  globalSetup: './test/before.cjs',
  transform: { '\\.[jt]s$': 'babel-jest' },
  transformIgnorePatterns: ['/node_modules/(?!(better-sse|culori)/)'],
};
