/** Runs the files first that took longest the last time, so that none of them is left for the end. */
const fs = require('node:fs');
const path = require('node:path');
const Sequencer = require('@jest/test-sequencer').default;

const root = path.join(__dirname, '..');
const file = path.join(__dirname, 'durations.json');
const seconds = fs.existsSync(file) ? JSON.parse(fs.readFileSync(file, 'utf8')) : {};
/** A file that nobody knows yet may be long. */
const UNKNOWN = 30;

module.exports = class extends Sequencer {
  sort(tests) {
    const took = (test) => seconds[path.relative(root, test.path)] ?? UNKNOWN;
    return [...tests].sort((a, b) => took(b) - took(a));
  }
};
