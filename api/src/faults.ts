import { z } from 'zod';

/** What a page says of a fault that it could not answer for. */
export const pageFault = z.strictObject({ message: z.string().max(500), stack: z.string().max(4000), page: z.string().max(200) });
export type PageFault = z.infer<typeof pageFault>;
