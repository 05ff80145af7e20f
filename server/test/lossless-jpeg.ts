/**
 * Lossless JPEG (ITU-T T.81, process 14, predictor 1). Of a mosaic two neighbours count as the samples of one place, as digital negatives have it.
 * @param samples 1 or 3 in a pixel. @param bits of each.
 */
export function losslessJpeg(values: Uint16Array, width: number, height: number, samples: number, bits: number): Buffer {
  const components = samples === 1 ? 2 : samples;
  const across = (width * samples) / components;
  const row = across * components;
  const out: number[] = [];
  let [pending, held] = [0, 0];
  const put = (value: number, count: number): void => {
    for (let b = count - 1; b >= 0; b--) {
      pending = (pending << 1) | ((value >> b) & 1);
      if (++held < 8) continue;
      out.push(pending);
      // What looks like a marker is told apart by a zero.
      if (pending === 255) out.push(0);
      [pending, held] = [0, 0];
    }
  };
  for (let i = 0; i < row * height; i++) {
    const x = i % row;
    const before = x >= components ? values[i - components] : i >= row ? values[i - row] : 1 << (bits - 1);
    const difference = ((((values[i] as number) - (before as number) + 32768) & 65535) - 32768) | 0;
    const size = difference === -32768 ? 16 : 32 - Math.clz32(Math.abs(difference));
    put(size, 5);
    if (size > 0 && size < 16) put(difference < 0 ? difference + (1 << size) - 1 : difference, size);
  }
  while (held > 0) put(1, 1);
  const segment = (marker: number, body: readonly number[]): number[] => [255, marker, (body.length + 2) >> 8, (body.length + 2) & 255, ...body];
  // Sizes 0..16, all written in five bits.
  const tables = Array.from({ length: components }, (_, t) => [
    t,
    0,
    0,
    0,
    0,
    17,
    ...Array<number>(11).fill(0),
    ...Array.from({ length: 17 }, (_v, i) => i),
  ]);
  const named = (each: (c: number) => number[]): number[] => Array.from({ length: components }, (_, c) => each(c)).flat();
  return Buffer.from([
    ...[255, 0xd8],
    ...segment(0xc4, tables.flat()),
    ...segment(0xc3, [bits, height >> 8, height & 255, across >> 8, across & 255, components, ...named((c) => [c, 0x11, 0])]),
    ...segment(0xda, [components, ...named((c) => [c, c << 4]), 1, 0, 0]),
    ...out,
    ...[255, 0xd9],
  ]);
}
