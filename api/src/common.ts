import { z } from 'zod';
import { keptText } from '@bexlen/core';

/** What goes over the wire between the app and the server. Both sides check with these. */
export const LONGEST_NAME = 120;

/** Text that can be kept as it is: without zero characters and halves of surrogate pairs. */
export const text = (): z.ZodString => keptText(z.string());
/** An id of anything on the shelf: 1 to 60 characters. */
export const id = text().min(1).max(60);
/** A name that somebody gives: 1 to 120 characters, without white space at its ends. */
export const name = text().trim().min(1, 'A name needs at least one character.').max(LONGEST_NAME, `A name has at most ${LONGEST_NAME} characters.`);
/** A name as it was kept, whatever may be asked of new ones by now. */
export const keptName = z.string();

/** What a refusal says: a code for programs, a sentence on what is wrong, and one on what to do. */
export const fault = z.object({ code: z.string(), message: z.string(), hint: z.string() });
export type Fault = z.infer<typeof fault>;
