import type { Machine, MachineList } from '@bexlen/api';

const some = (count: number, one: string, many: string): string => `${count} ${count === 1 ? one : many}`;
const figure = (value: number): string => (value < 10 ? value.toFixed(1) : String(Math.round(value)));

/** What all machines together come to. */
export function wordsOfHouse({ machines, waiting }: MachineList): string {
  const at = machines.filter(({ silent }) => !silent);
  if (at.length === 0) return waiting > 0 ? `No machine makes files; ${some(waiting, 'file waits', 'files wait')}` : 'No machine makes files';
  const rate = at.reduce((sum, { perMinute }) => sum + perMinute, 0);
  return [some(at.length, 'machine', 'machines'), some(waiting, 'file waits', 'files wait'), ...(rate > 0 ? [`${figure(rate)} a minute`] : [])].join(
    ' · ',
  );
}

/** What one machine does. */
export function wordsOfMachine({ silent, doing, made, threads }: Machine): string {
  if (silent) return 'is silent; what it was making was given to another';
  const before = made > 0 ? ` · ${some(made, 'file', 'files')} so far` : '';
  return `${doing === null ? `is ready, with ${some(threads, 'thread', 'threads')}` : `makes ${doing}`}${before}`;
}
