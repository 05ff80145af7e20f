import { useLayoutEffect, useRef } from 'react';
import type { Drawing } from '@bexlen/core';
import { gamutOf } from '../state/wide';

/** A part of a picture that was made anew. */
interface Patch {
  readonly image: ImageData;
  readonly x: number;
  readonly y: number;
}

interface Props {
  readonly image: ImageData | undefined;
  /** What is seen in the place of its pixels. */
  readonly seen?: ImageBitmap | undefined;
  readonly label?: string;
  readonly patch?: Patch | undefined;
  /** The machine that made it. */
  readonly by?: Drawing['machine'] | undefined;
}

/** Pixels as they are, scaled by the page, in the frame in which they come. Without a label the picture only adorns what stands beside it. */
export function Picture({ image, seen, label, patch, by }: Props) {
  const ref = useRef<HTMLCanvasElement>(null);
  useLayoutEffect(() => {
    const canvas = ref.current;
    if (!canvas || !image) return;
    if (canvas.width !== image.width || canvas.height !== image.height) Object.assign(canvas, { width: image.width, height: image.height });
    const context = canvas.getContext('2d', { colorSpace: gamutOf(image) });
    if (seen) context?.drawImage(seen, 0, 0);
    else context?.putImageData(image, 0, 0);
  }, [image, seen]);
  useLayoutEffect(() => {
    if (patch) ref.current?.getContext('2d')?.putImageData(patch.image, patch.x, patch.y);
  }, [patch]);
  return (
    <canvas
      ref={ref}
      {...(by && { 'data-machine': by })}
      {...(label ? { role: 'img', 'aria-label': label } : { 'aria-hidden': true })}
      style={{ width: '100%', height: '100%', objectFit: 'cover', visibility: image ? 'visible' : 'hidden' }}
    />
  );
}
