import { z } from 'zod';
import { id, name } from './common';

/** A phone or another machine that was let in. */
export const device = z.object({ id, name: z.string(), pairedAt: z.string(), seenAt: z.string() });
export type Device = z.infer<typeof device>;
/** Another name for a device. */
export const deviceName = z.strictObject({ name });

/** Whether the network is to be let in. */
export const phoneChange = z.strictObject({ open: z.boolean() });

/** What the machine itself is told of its doors to the network. */
export const phoneState = z.object({
  /** Whether the network is let in, as far as it can be. */
  open: z.boolean(),
  /** Where phones find it; empty where no door is open. */
  addresses: z.array(z.string()),
  /** Why some or all doors are shut, and what to do. */
  faults: z.array(z.string()),
  fingerprints: z.object({ machine: z.string(), authority: z.string() }).nullable(),
  devices: z.array(device),
});
export type PhoneState = z.infer<typeof phoneState>;

/** A code for pairing, and how it is drawn: rows of dark and light squares. */
export const pairingCode = z.object({
  code: z.string(),
  link: z.string(),
  /** Milliseconds. */
  goodFor: z.number(),
  squares: z.array(z.string()),
});
export type PairingCode = z.infer<typeof pairingCode>;

/** What somebody at the door shows. */
export const pairing = z.strictObject({ code: z.string().max(200), name: name.optional() });

/** Who asks: nobody on the machine itself, or a paired device. */
export const whoAsks = z.object({ device: device.nullable() });
