import { useEffect, useRef } from 'react';

/** Pixels as they are, scaled by the page. Without a label the picture only adorns what stands beside it. */
export function Picture({ image, label }: { image: ImageData | undefined; label?: string }) {
  const ref = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const canvas = ref.current;
    if (!canvas || !image) return;
    if (canvas.width !== image.width || canvas.height !== image.height) Object.assign(canvas, { width: image.width, height: image.height });
    canvas.getContext('2d')?.putImageData(image, 0, 0);
  }, [image]);
  return (
    <canvas
      ref={ref}
      {...(label ? { role: 'img', 'aria-label': label } : { 'aria-hidden': true })}
      style={{ width: '100%', height: '100%', objectFit: 'cover', visibility: image ? 'visible' : 'hidden' }}
    />
  );
}
