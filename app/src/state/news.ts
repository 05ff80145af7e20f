import { create } from 'zustand';
import { news, type NewsName, type Told } from '@bexlen/api';
import { forgetKept } from '../offline/page';
import { Refusal, server } from './server';

/** The state of the connection between this page and the server. */
interface Reach {
  /** `unpaired`: the server answers, but not to this device. */
  readonly reach: 'opening' | 'here' | 'away' | 'unpaired';
  /** The server has a newer page than this one. */
  readonly newer: boolean;
}
export const useReach = create<Reach>(() => ({ reach: 'opening', newer: false }));

/** A connection that just failed may not be known to be gone yet: so long it is waited for. */
const SURE_MS = 1000;

/** Calls a function once, when the server that did not answer is heard again. Returns a function that calls it off. */
export function whenReached(act: () => void): () => void {
  let stop: (() => void) | undefined;
  const sure = setTimeout(() => {
    if (useReach.getState().reach === 'here') return act();
    stop = useReach.subscribe(({ reach }) => {
      if (reach !== 'here') return;
      stop?.();
      act();
    });
  }, SURE_MS);
  return () => (clearTimeout(sure), stop?.());
}

/** How long to wait before the server is asked again. */
const RETRY_MS = [1000, 1500, 2500, 4000, 8000];
/** A page that has been out of sight for this long stops listening. */
const HIDDEN_MS = 60_000;

type Listener<N extends NewsName> = (what: Told<N>) => void;
const listeners = new Map<NewsName, Set<(what: never) => void>>();

/** Calls a listener for each event of one sort from the server; returns a function that removes it. */
export function hear<N extends NewsName>(name: N, listener: Listener<N>): () => void {
  const all = listeners.get(name) ?? new Set();
  listeners.set(name, all.add(listener));
  return () => void all.delete(listener);
}

let source: EventSource | undefined;
let timer: ReturnType<typeof setTimeout> | undefined;
let tries = 0;

function connect(): void {
  clearTimeout(timer);
  source?.close();
  source = new EventSource('/api/events');
  source.onerror = () => void lost();
  for (const name of Object.keys(news) as NewsName[])
    source.addEventListener(name, ({ data }: MessageEvent<string>) => {
      const read = news[name].safeParse(JSON.parse(data));
      if (!read.success) return;
      if (name === 'hello') welcome(read.data as Told<'hello'>);
      listeners.get(name)?.forEach((listener) => listener(read.data as never));
    });
}

/** The programs that this page was started with, as the server names them: not those of its parts, which come later. */
const ownPage = [...(globalThis.document?.scripts ?? [])].flatMap((script) => script.getAttribute('src') ?? []).join(' ');

function welcome({ page }: Told<'hello'>): void {
  tries = 0;
  useReach.setState({ reach: 'here', newer: page !== '' && page !== ownPage });
}

/** Handles a broken connection: the server is away, or no longer knows this device. */
async function lost(): Promise<void> {
  source?.close();
  source = undefined;
  const refused = await server.me().then(
    () => undefined,
    (error: unknown) => (error instanceof Refusal ? error.code : 'offline'),
  );
  if (refused === 'not-paired') void forgetKept();
  // Only the line broke: the server answers.
  if (refused !== undefined) useReach.setState({ reach: refused === 'not-paired' ? 'unpaired' : 'away' });
  // Nobody looks: it is asked again when somebody does.
  if (document.hidden) return;
  timer = setTimeout(connect, RETRY_MS[Math.min(tries++, RETRY_MS.length - 1)]);
}

/** Listens to the server for as long as the page is in sight. */
export function listen(): () => void {
  const turn = (): void => {
    clearTimeout(timer);
    if (document.hidden) timer = setTimeout(() => (source?.close(), (source = undefined)), HIDDEN_MS);
    else if (!source || source.readyState === EventSource.CLOSED) connect();
  };
  const online = (): void => connect();
  document.addEventListener('visibilitychange', turn);
  window.addEventListener('online', online);
  connect();
  return () => {
    document.removeEventListener('visibilitychange', turn);
    window.removeEventListener('online', online);
    clearTimeout(timer);
    source?.close();
  };
}
