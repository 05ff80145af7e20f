import { z } from 'zod';
import { exportJob } from './exports';
import { id } from './common';

/** What the server tells every page that listens, by the name of the event. */
export const news = {
  /** First of all: the program of the page that the server serves now. */
  hello: z.object({ page: z.string() }),
  export: exportJob,
  removed: z.object({ id }),
  version: z.object({ id, revision: z.number().int() }),
  /** Something on the shelf is not as it was: photos, rolls or versions. */
  shelf: z.object({}),
  /** A device came or was sent away. */
  devices: z.object({}),
};
export type NewsName = keyof typeof news;
export type Told<N extends NewsName> = z.infer<(typeof news)[N]>;
