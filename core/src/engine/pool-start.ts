/** What a worker needs for its kernels: compiled ones and shared memory, or, where memory cannot be shared, their bytes for a worker alone. */
export interface Kernels {
  readonly module: WebAssembly.Module | Uint8Array;
  readonly memory?: WebAssembly.Memory | undefined;
}

/** Starts a pool: the first worker leads it and says when it is ready, each of the others helps it over a channel of its own. */
export function startPool<P>(
  workers: readonly { postMessage(message: unknown, moved: P[]): void }[],
  { module, memory }: Kernels,
  newChannel: () => { readonly port1: P; readonly port2: P },
): void {
  const [lead, ...others] = workers;
  const helpers = others.map((worker, i) => {
    const { port1, port2 } = newChannel();
    worker.postMessage({ type: 'assist', module, memory, part: i + 1, parts: workers.length, lead: port1 }, [port1]);
    return port2;
  });
  lead?.postMessage({ type: 'begin', module, memory, helpers }, helpers);
}
