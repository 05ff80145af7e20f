/**
 * The second form of inner loops, for the graphics processor (WGSL, W3C WebGPU Shading Language). The body of an op makes one pixel: from `a`, and `b` where there are two inputs, with
 * its numbers from `n` on in `given` and its table at `t` in `tables`, for the pixel (x, y).
 */
export interface Shaders {
  /** Functions that its ops call. */
  readonly helpers: string;
  readonly ops: Readonly<Record<string, string>>;
}
