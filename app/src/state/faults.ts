import type { PageFault } from '@bexlen/api';

/** A page that fails again and again says so a few times only. */
const MOST = 5;
let told = 0;

/** Has a fault of the page written to the server's log, and to the browser's. */
export function noteFault(error: unknown): void {
  console.error(error);
  if (told++ >= MOST) return;
  const { message, stack } = error instanceof Error ? error : new Error(String(error));
  const fault: PageFault = {
    message: message.slice(0, 500),
    stack: (stack ?? '').slice(0, 4000),
    page: (globalThis.location?.pathname ?? '').slice(0, 200),
  };
  // Where the server is away the browser's own log has to do.
  void fetch('/api/faults', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(fault) }).catch(() => undefined);
}

/** Notes what nobody has answered for, until the page goes. */
export function noteFaults(): () => void {
  const thrown = ({ error }: ErrorEvent): void => void (error && noteFault(error));
  const refused = ({ reason }: PromiseRejectionEvent): void => void (reason instanceof Error && reason.name !== 'AbortError' && noteFault(reason));
  addEventListener('error', thrown);
  addEventListener('unhandledrejection', refused);
  return () => {
    removeEventListener('error', thrown);
    removeEventListener('unhandledrejection', refused);
  };
}
