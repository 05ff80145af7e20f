import { BexlenError } from '../errors';

const GRAIN = 64;
const PAGE = 65536;
/** Kernels may read a few pixels past what they were given. */
const MARGIN = 256;

interface Span {
  readonly at: number;
  readonly size: number;
}

/**
 * Pieces of one WebAssembly memory, first fit, in grains of 64 bytes. The memory grows when no gap is wide enough and
 * never shrinks; it ends with the engine that owns it.
 */
export class Heap {
  private readonly held = new Map<number, number>();
  private gaps: Span[];

  /** @param from first byte that may be given out; what lies below belongs to the kernels. */
  constructor(
    readonly memory: WebAssembly.Memory,
    from: number,
  ) {
    const start = Math.ceil(from / GRAIN) * GRAIN;
    this.gaps = [{ at: start, size: memory.buffer.byteLength - start }];
  }

  /** Address of a piece of at least `bytes` bytes. Throws `memory` when the memory cannot grow any further. */
  acquire(bytes: number): number {
    const size = Math.ceil((bytes + MARGIN) / GRAIN) * GRAIN;
    const gap = this.gaps.find((g) => g.size >= size) ?? this.grow(size);
    this.gaps = this.gaps.flatMap((g) => (g !== gap ? [g] : g.size === size ? [] : [{ at: g.at + size, size: g.size - size }]));
    this.held.set(gap.at, size);
    return gap.at;
  }

  /** Gives a piece back. An address that is not held is an error in the engine. */
  release(at: number): void {
    const size = this.held.get(at);
    if (size === undefined) throw new Error(`nothing is held at ${at}`);
    this.held.delete(at);
    this.gaps = joined([...this.gaps, { at, size }]);
  }

  private grow(size: number): Span {
    const old = this.memory.buffer.byteLength;
    const tail = this.gaps.find((g) => g.at + g.size === old);
    const missing = size - (tail?.size ?? 0);
    try {
      this.memory.grow(Math.ceil(missing / PAGE));
    } catch {
      throw new BexlenError('memory', 'There is not enough memory for a picture of this size.', 'Close other work, or use a smaller picture.');
    }
    this.gaps = joined([...this.gaps, { at: old, size: this.memory.buffer.byteLength - old }]);
    const gap = this.gaps.find((g) => g.size >= size);
    if (!gap) throw new Error('memory grew too little');
    return gap;
  }
}

function joined(spans: Span[]): Span[] {
  const sorted = [...spans].sort((a, b) => a.at - b.at);
  const out: Span[] = [];
  for (const span of sorted) {
    const last = out.at(-1);
    if (last && last.at + last.size === span.at) out[out.length - 1] = { at: last.at, size: last.size + span.size };
    else out.push(span);
  }
  return out;
}
