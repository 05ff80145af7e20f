/**
 * Jest for what runs in Node.js: in bare processes, where numeric code runs at its own speed (in a VM context each look-up of `Math` and the like is a call), from the TypeScript sources through tsx.
 * @param {string} folder the workspace.
 */
module.exports = (folder) => ({
  rootDir: folder,
  runner: require.resolve('jest-light-runner/child-process'),
  testMatch: ['**/*.test.ts'],
  transform: {},
  extensionsToTreatAsEsm: ['.ts'],
});
