import type { Machine, MachineList } from '@bexlen/api';
import { say, decimal } from '../words';

const some = (count: number, one: string, many: string): string => `${count} ${count === 1 ? one : many}`;
const figure = (value: number): string => (value < 10 ? decimal(value, 1) : String(Math.round(value)));

/** Machines by what they are called: several processes of one machine are numbered. */
export function namesOf(machines: readonly Machine[]): string[] {
  const count = new Map<string, number>();
  for (const { name } of machines) count.set(name, (count.get(name) ?? 0) + 1);
  const next = new Map<string, number>();
  return machines.map(({ name }) => {
    next.set(name, (next.get(name) ?? 0) + 1);
    return count.get(name) === 1 ? name : `${name} ${next.get(name)}`;
  });
}

/** What all machines together come to. */
export function wordsOfHouse({ machines, waiting }: MachineList): string {
  const at = machines.filter(({ silent }) => !silent);
  if (at.length === 0)
    return waiting > 0
      ? `${say.exports.noMachineMakesFiles}; ${some(waiting, say.exports.fileWaits, say.exports.filesWait)}`
      : say.exports.noMachineMakesFiles;
  const rate = at.reduce((sum, { perMinute }) => sum + perMinute, 0);
  const words = [some(at.length, say.exports.machine, say.exports.machines)];
  if (waiting > 0) words.push(some(waiting, say.exports.fileWaits, say.exports.filesWait));
  if (rate > 0) words.push(say.exports.whatAMinute(figure(rate)));
  return words.join(' · ');
}

/** What one machine does. */
export function wordsOfMachine({ silent, doing, made, threads }: Machine): string {
  if (silent) return say.exports.isSilent;
  const before = made > 0 ? say.exports.someSoFar(some(made, say.exports.fileWord, say.exports.filesWord)) : '';
  return `${doing === null ? say.exports.isReadyWithSome(some(threads, say.exports.thread, say.exports.threads)) : say.exports.makesDoing(doing)}${before}`;
}
