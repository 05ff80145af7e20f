import fs from 'node:fs/promises';
import { EMPTY, House } from './house';

/** Lays an empty shelf out once, for all stories to begin with. Returns how it is cleared away. */
export default async function before(): Promise<() => Promise<void>> {
  const house = await House.open();
  await house.stop();
  process.env[EMPTY] = house.data;
  return () => fs.rm(house.data, { recursive: true, force: true });
}
