const preset = require('jest-expo/jest-preset');

/** What is written in TypeScript here; what React Native is written in only Babel reads. */
const ours = '/(app|core|api)/.*\\.tsx?$';
const swc = {
  jsc: { target: 'es2022', parser: { syntax: 'typescript', tsx: true }, transform: { react: { runtime: 'automatic' } } },
  module: { type: 'commonjs' },
};

module.exports = {
  preset: 'jest-expo',
  transform: { [ours]: ['@swc/jest', swc], ...preset.transform },
  moduleNameMapper: {
    '^lucide-react-native/icons/(.*)$': '<rootDir>/../node_modules/lucide-react-native/dist/cjs/icons/$1.js',
  },
  transformIgnorePatterns: [
    '/node_modules/(?!(.pnpm|react-native|@react-native|@react-native-community|expo|@expo|@bexlen|lucide-react-native|@testing-library))',
  ],
};
