import fs from 'node:fs';
import path from 'node:path';
import { readLook } from './look';
import { kindsPage, lookJsonSchema } from './pages';

const docs = path.join(import.meta.dirname, '../../../docs');
const read = (name: string): string => fs.readFileSync(path.join(docs, name), 'utf8');

describe('the pages about looks', () => {
  it('are up to date: npm run docs makes them', () => {
    expect(read('kinds.md')).toBe(kindsPage());
    expect(read('look.schema.json')).toBe(lookJsonSchema());
  });
  it('show complete examples that can be read', () => {
    const examples = [...read('look-format.md').matchAll(/```json\n([\s\S]*?)```/g)].map(([, text = '']) => text);
    expect(examples.length).toBeGreaterThan(2);
    for (const text of examples) expect(readLook(text).faults).toEqual([]);
  });
  it('tell all lessons with their sentences: npm run docs makes the guide', () => {
    const lessons = path.join(docs, '../app/src/lessons/ours');
    const guide = read('guide.md');
    for (const file of fs.readdirSync(lessons)) {
      const { look } = readLook(fs.readFileSync(path.join(lessons, file), 'utf8'));
      for (const part of [`### ${look?.name}`, ...(look?.says ?? ['none'])]) expect(guide).toContain(part);
    }
  });
});
