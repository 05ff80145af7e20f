/** Runs the files first that took longest the last time, or, where nobody has run them here, that are known to be long, so that none of them is left for the end. */
const fs = require('node:fs');
const path = require('node:path');
const Sequencer = require('@jest/test-sequencer').default;

const root = path.join(__dirname, '..');
const file = path.join(root, 'build/durations.json');
const seconds = fs.existsSync(file) ? (JSON.parse(fs.readFileSync(file, 'utf8')).files ?? {}) : {};
const LONG = /(many|lasting|move|update|db|preview|gpu|second|long-way[a-z-]*|looks|character)\.test/;

module.exports = class extends Sequencer {
  sort(tests) {
    const took = (test) => seconds[path.relative(root, test.path)] ?? (LONG.test(test.path) ? 60 : 5);
    return [...tests].sort((a, b) => took(b) - took(a));
  }
};
