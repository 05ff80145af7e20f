import type { Machine, MachineList } from '@bexlen/api';

const some = (count: number, one: string, many: string): string => `${count} ${count === 1 ? one : many}`;
const figure = (value: number): string => (value < 10 ? value.toFixed(1) : String(Math.round(value)));

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
  if (at.length === 0) return waiting > 0 ? `No machine makes files; ${some(waiting, 'file waits', 'files wait')}` : 'No machine makes files';
  const rate = at.reduce((sum, { perMinute }) => sum + perMinute, 0);
  const words = [some(at.length, 'machine', 'machines')];
  if (waiting > 0) words.push(some(waiting, 'file waits', 'files wait'));
  if (rate > 0) words.push(`${figure(rate)} a minute`);
  return words.join(' · ');
}

/** What one machine does. */
export function wordsOfMachine({ silent, doing, made, threads }: Machine): string {
  if (silent) return 'is silent; what it was making was given to another';
  const before = made > 0 ? ` · ${some(made, 'file', 'files')} so far` : '';
  return `${doing === null ? `is ready, with ${some(threads, 'thread', 'threads')}` : `makes ${doing}`}${before}`;
}
