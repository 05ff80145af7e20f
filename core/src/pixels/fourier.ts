/** Places of n values after a transform by fours that leaves them where they fall: their digits to the base of four, read backwards. */
function fallen(n: number): Uint16Array {
  const places = new Uint16Array(n);
  for (let i = 0; i < n; i++) {
    let [back, rest] = [0, i];
    for (let m = n; m > 1; m /= 4) {
      back = back * 4 + (rest % 4);
      rest = Math.floor(rest / 4);
    }
    places[i] = back;
  }
  return places;
}

/** A discrete Fourier transform of n values `step` apart from one on, in place; n is a power of two (J. Cooley and J. Tukey 1965). */
function transform(re: Float64Array, im: Float64Array, from: number, step: number, n: number): void {
  for (let i = 1, j = 0; i < n; i++) {
    let bit = n >> 1;
    for (; j & bit; bit >>= 1) j ^= bit;
    j ^= bit;
    if (i >= j) continue;
    const [a, b] = [from + i * step, from + j * step];
    [re[a], re[b]] = [re[b] as number, re[a] as number];
    [im[a], im[b]] = [im[b] as number, im[a] as number];
  }
  for (let m = 2; m <= n; m *= 2) {
    const half = m / 2;
    for (let j = 0; j < half; j++) {
      const [c, s] = [Math.cos((-2 * Math.PI * j) / m), Math.sin((-2 * Math.PI * j) / m)];
      for (let k = j; k < n; k += m) {
        const [a, b] = [from + k * step, from + (k + half) * step];
        const [x, y] = [re[b] as number, im[b] as number];
        const [u, v] = [x * c - y * s, x * s + y * c];
        re[b] = (re[a] as number) - u;
        im[b] = (im[a] as number) - v;
        re[a] = (re[a] as number) + u;
        im[a] = (im[a] as number) + v;
      }
    }
  }
}

/**
 * The spectrum of a small kernel about its middle, 2 reach + 1 values each way, on squares of n x n: real and imaginary parts in turn, where the kernel `aperture` looks
 * for them, and divided by n x n, so that transforming there and back changes nothing.
 */
export function spectrumOf(shares: Float64Array, reach: number, n: number): Float32Array {
  const [re, im] = [new Float64Array(n * n), new Float64Array(n * n)];
  const side = 2 * reach + 1;
  const wrapped = (v: number): number => (v + n) % n;
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) re[wrapped(y - reach) * n + wrapped(x - reach)] = (shares[y * side + x] as number) / (n * n);
  for (let y = 0; y < n; y++) transform(re, im, y * n, 1, n);
  for (let x = 0; x < n; x++) transform(re, im, x, n, n);
  const places = fallen(n);
  const out = new Float32Array(2 * n * n);
  for (let y = 0; y < n; y++)
    for (let x = 0; x < n; x++) {
      const to = 2 * ((places[y] as number) * n + (places[x] as number));
      out[to] = re[y * n + x] as number;
      out[to + 1] = im[y * n + x] as number;
    }
  return out;
}
