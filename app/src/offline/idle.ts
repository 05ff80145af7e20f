/** Does something when the page has nothing else to do, at the earliest after some milliseconds. Returns how to call it off. */
export function whenIdle(afterMs: number, act: () => void): () => void {
  const idle = globalThis.requestIdleCallback ?? ((now: () => void) => setTimeout(now, 0));
  const timer = setTimeout(() => idle(act), afterMs);
  return () => clearTimeout(timer);
}
