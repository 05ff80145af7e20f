module.exports = {
  testEnvironment: 'node',
  testMatch: ['**/*.test.ts'],
  transform: { '\\.[jt]s$': 'babel-jest' },
  transformIgnorePatterns: ['/node_modules/(?!(better-sse)/)'],
};
