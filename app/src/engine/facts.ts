import { factsOf, type Facts } from '@bexlen/core';
import { usePreview } from './shown';

const known = new WeakMap<ImageData, Facts>();

/** What is to be known of the open photo, worked out once. */
export function useFacts(): Facts | undefined {
  const original = usePreview((preview) => preview.original);
  if (!original) return undefined;
  const facts = known.get(original) ?? factsOf(original);
  known.set(original, facts);
  return facts;
}
