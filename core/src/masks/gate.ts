import { z } from 'zod';
import { curveSchema, level } from '../pixels/curve';

/**
 * The tone gate: two curves that fade a layer by tone. `own` is read at the tone of what the layer makes, `beneath` at the tone of
 * what lies under it; the layer's amount is multiplied by both.
 */
export const gateSchema = z.strictObject({ own: curveSchema.default(level), beneath: curveSchema.default(level) });
export type Gate = z.infer<typeof gateSchema>;
export type GateSide = keyof Gate;

/** A gate that lets everything through. */
export const openGate: Gate = { own: level, beneath: level };
