import { useEffect, useLayoutEffect, useMemo, useRef, useSyncExternalStore } from 'react';
import type { Drawing } from '@bexlen/core/engine';
import { gamutOf } from '../state/wide';
import { tellInSight } from './inSight';

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
  /** Hears whether it is in sight. */
  readonly onSight?: (seen: boolean) => void;
}

/** Pixels as they are, scaled by the page, in the frame in which they come. Without a label the picture only adorns what stands beside it. */
export function Picture({ image, seen, label, patch, by, onSight }: Props) {
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
  useEffect(() => (ref.current && onSight ? tellInSight(ref.current, onSight) : undefined), [onSight]);
  return (
    <canvas
      ref={ref}
      {...(by && { 'data-machine': by })}
      {...(label ? { role: 'img', 'aria-label': label } : { 'aria-hidden': true })}
      style={{ width: '100%', height: '100%', objectFit: 'cover', visibility: image ? 'visible' : 'hidden' }}
    />
  );
}

/** A list of pictures, each of which is made when it is in sight. */
export interface Pictures {
  readonly at: (i: number) => ImageData | undefined;
  /** Tells a listener of one of them when it has changed, until it is called off. */
  readonly heed: (i: number, listener: () => void) => () => void;
  readonly see: (i: number, seen: boolean) => void;
}

/** One of them as it is now. */
export const usePictureAt = (of: Pictures, at: number): ImageData | undefined =>
  useSyncExternalStore(
    useMemo(() => (listener: () => void) => of.heed(at, listener), [of, at]),
    () => of.at(at),
  );

/** One of a list of pictures: the others are not drawn again when it comes. */
export function SmallPicture({ of, at }: { of: Pictures; at: number }) {
  const onSight = useMemo(() => (seen: boolean) => of.see(at, seen), [of, at]);
  return <Picture image={usePictureAt(of, at)} onSight={onSight} />;
}
