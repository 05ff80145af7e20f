module.exports = {
  testEnvironment: 'node',
  testTimeout: 60_000,
  testMatch: ['**/*.test.ts'],
  transform: { '\\.[jt]s$': 'babel-jest' },
  transformIgnorePatterns: ['/node_modules/(?!(better-sse)/)'],
};
