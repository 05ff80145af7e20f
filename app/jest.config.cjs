module.exports = {
  preset: 'jest-expo',
  moduleNameMapper: {
    '^lucide-react-native/icons/(.*)$': '<rootDir>/../node_modules/lucide-react-native/dist/cjs/icons/$1.js',
  },
  transformIgnorePatterns: [
    '/node_modules/(?!(.pnpm|react-native|@react-native|@react-native-community|expo|@expo|@bexlen|lucide-react-native|@testing-library))',
  ],
};
