/** The closing line of ./check: all tests together. A step that failed without a failing test counts as one. */
import fs from 'node:fs';

const faults = Number(process.argv[2] ?? 0);
const read = (file) => (fs.existsSync(file) ? JSON.parse(fs.readFileSync(file, 'utf8')) : undefined);
const unit = read('build/unit.json') ?? { passed: 0, failed: 1 };
const stories = read('build/stories.json');
const story = stories ? { passed: stories.stats.expected, failed: stories.stats.unexpected + stories.stats.flaky } : { passed: 0, failed: 1 };
const passed = unit.passed + story.passed;
const failed = Math.max(unit.failed + story.failed, faults > 0 ? 1 : 0);
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed > 0 ? 1 : 0);
