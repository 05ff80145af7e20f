import { useEffect, useState } from 'react';
import type { Stack } from '@bexlen/core';
import type { Small } from './studio';
import { smallPictures } from './preview';
import { usePreview } from './shown';
import { useHeld } from '../state/held';

const REST_MS = 180;

/** Small pictures of stacks, made anew when they change and nothing is held. `key` says when they have changed. */
export function useSmallPictures(key: unknown, stacks: () => readonly (Stack | Small)[]): readonly (ImageData | undefined)[] {
  const [images, setImages] = useState<readonly (ImageData | undefined)[]>([]);
  const ready = usePreview(({ state }) => state === 'ready');
  const held = useHeld(({ id }) => id !== undefined);
  useEffect(() => {
    if (!ready || held) return;
    let stop = (): void => undefined;
    const timer = setTimeout(() => {
      stop = smallPictures(
        stacks().map((it) => ('stack' in it ? it : { stack: it })),
        (i, image) => setImages((old) => Object.assign([...old], { [i]: image })),
      );
    }, REST_MS);
    return () => {
      clearTimeout(timer);
      stop();
    };
    // The stacks follow from the key; listing the function would make them anew at every render.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key, ready, held]);
  return images;
}
