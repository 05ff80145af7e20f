import type { ReferenceKernels } from '../../kernels/reference';

/** Entries of a table made by `tabulate`. */
export const TABLE_ENTRIES = 4096;
/** Bytes of one float32 RGBA pixel. */
export const PIXEL = 16;
/** Bytes of an opaque pixel whose alpha is left out. */
export const TRIPLE = 12;
/** Bytes of the tables of dithering noise. */
export const NOISE_BYTES = 128 * (132 * 4 + 128 * 3 + 48);
const PAGE = 65536;
/** 4 GiB, all that 32-bit addresses reach. */
const MOST_PAGES = 65536;

/**
 * The inner loops, over addresses in one memory. The WebAssembly build and the readable TypeScript twins in
 * kernels/reference have the same functions; the twins are the oracle in tests and the fall-back.
 */
export type Kernels = ReferenceKernels;

/** A memory for the engine. `shared` needs a page that is cross-origin isolated, or Node.js. */
export function newMemory(shared: boolean, mostBytes = MOST_PAGES * PAGE): WebAssembly.Memory {
  return new WebAssembly.Memory({ initial: 16, maximum: Math.min(MOST_PAGES, Math.ceil(mostBytes / PAGE)), shared });
}

/** The kernels of a compiled module on a memory. */
export async function instantiate(module: WebAssembly.Module, memory: WebAssembly.Memory): Promise<Kernels> {
  const instance = await WebAssembly.instantiate(module, { env: { memory, abort } });
  return instance.exports as unknown as Kernels;
}

function abort(): never {
  throw new Error('a kernel stopped');
}
