/** A pixel as the twins handle it: red, green, blue, alpha, premultiplied. */
export type Px = [number, number, number, number];

/** Typed views of a memory by byte address. They follow the memory when it grows. */
export class Views {
  private buffer: ArrayBufferLike;
  private floats: Float32Array;
  private octets: Uint8Array;

  constructor(private readonly memory: WebAssembly.Memory) {
    this.buffer = memory.buffer;
    this.floats = new Float32Array(this.buffer);
    this.octets = new Uint8Array(this.buffer);
  }

  get f32(): Float32Array {
    this.follow();
    return this.floats;
  }
  get u8(): Uint8Array {
    this.follow();
    return this.octets;
  }

  f(at: number): number {
    return this.f32[at >>> 2] as number;
  }
  setF(at: number, v: number): void {
    this.f32[at >>> 2] = v;
  }
  px(at: number): Px {
    const i = at >>> 2;
    const f = this.f32;
    return [f[i] as number, f[i + 1] as number, f[i + 2] as number, f[i + 3] as number];
  }
  setPx(at: number, v: readonly number[]): void {
    this.f32.set(v, at >>> 2);
  }
  /** Three floats, as an opaque pixel. */
  rgb(at: number): Px {
    return [this.f(at), this.f(at + 4), this.f(at + 8), 1];
  }
  setRgb(at: number, v: readonly number[]): void {
    this.f32.set(v.slice(0, 3), at >>> 2);
  }
  u16(at: number): number {
    return (this.u8[at] as number) | ((this.u8[at + 1] as number) << 8);
  }
  setU16(at: number, v: number): void {
    this.u8[at] = v & 255;
    this.u8[at + 1] = v >> 8;
  }

  private follow(): void {
    if (this.buffer === this.memory.buffer) return;
    this.buffer = this.memory.buffer;
    this.floats = new Float32Array(this.buffer);
    this.octets = new Uint8Array(this.buffer);
  }
}

/** What red, green and blue weigh in a tone. */
export type Weights = readonly [red: number, green: number, blue: number];
export const toneOf = ([r = 0, g = 0, b = 0]: readonly number[], [red, green, blue]: Weights): number => red * r + green * g + blue * b;

export const clamp = (v: number, low: number, high: number): number => Math.min(high, Math.max(low, v));
export const held = (i: number, n: number): number => clamp(i, 0, n - 1);
export const straight = ([r, g, b, a]: Px): Px => (a > 0 ? [r / a, g / a, b / a, 1] : [0, 0, 0, 0]);

/** Sum of pixels by weights. */
export const weighted = (pixels: readonly Px[], weights: readonly number[]): Px => {
  const sum: Px = [0, 0, 0, 0];
  pixels.forEach((p, i) => p.forEach((v, c) => ((sum[c] as number) += v * (weights[i] as number))));
  return sum;
};
/** n whole numbers from one on. */
export const span = (from: number, n: number): number[] => Array.from({ length: n }, (_, i) => from + i);
