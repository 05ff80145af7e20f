import { kindOf, newGroup, newLayer, type Stack } from '@bexlen/core';
import type { Sharpening } from '@bexlen/api';

/** What a size takes to look as crisp as the photo did, in pixels of what is made: a screen shows them as they are, ink spreads. */
const BY: Partial<Record<Sharpening, { readonly amount: number; readonly radiusPx: number }>> = {
  screen: { amount: 0.6, radiusPx: 0.55 },
  print: { amount: 1.2, radiusPx: 0.9 },
};

/** A stack that ends with sharpening for its size, whatever its master does. @param filmEdge long edge of the uncropped photo, in pixels of what is made. */
export function sharpened(stack: Stack, how: Sharpening | undefined, filmEdge: number): Stack {
  const by = how && BY[how];
  if (!by) return stack;
  const { radius } = kindOf('sharpen').params;
  const [least, most] = radius?.type === 'number' ? [radius.min, radius.max] : [0, 1];
  const plain = newLayer('sharpen', 'sharpened-for-size');
  const last = { ...plain, params: { ...plain.params, amount: by.amount, radius: Math.min(most, Math.max(least, by.radiusPx / filmEdge)) } };
  // A master beyond 1 goes on from what the layers make: there is no fader that far for a group.
  if (stack.master > 1) return { ...stack, layers: [...stack.layers, last] };
  return { ...stack, master: 1, layers: [{ ...newGroup('all-of-the-look', stack.layers), strength: stack.master }, last] };
}
