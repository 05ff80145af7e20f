/** Counts as a shape, by the root of their share, so that small ones can be seen. */
export function histogramPath(counts: Uint32Array, toX: (x: number) => number, toY: (y: number) => number): string {
  const most = Math.max(1, ...counts.subarray(1, 255));
  const points = Array.from(counts, (n, i) => `L${toX(i / 255).toFixed(1)} ${toY(Math.min(1, Math.sqrt(n / most)) * 0.94).toFixed(1)}`);
  return `M${toX(0)} ${toY(0)}${points.join('')}L${toX(1)} ${toY(0)}Z`;
}
