const float = new Float32Array(1);
const bits = new Uint32Array(float.buffer);

/** The numbers of one dispatch, as its shader reads them: it knows their places only, so that other numbers need no other shader. */
export class Words {
  readonly all: number[] = [];

  /** Takes up a number, and returns its place as a shader writes it. */
  float(v: number): string {
    float[0] = v;
    return this.put(bits[0] as number);
  }
  whole(v: number): string {
    return this.put(v | 0);
  }

  private put(word: number): string {
    this.all.push(word >>> 0);
    return `${this.all.length - 1}u`;
  }
}
