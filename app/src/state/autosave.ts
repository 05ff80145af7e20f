import { compact, find, nameOf, type Stack } from '@bexlen/core';
import type { Version, VersionChange } from '@bexlen/api';
import { inForce, layOut, notify, openChannel, useBench } from './bench';
import { keepBeside, sameState } from './copies';
import { applied, difference, type History } from './history';
import { journal } from './journal';
import { hear } from './news';
import { comeBack } from './place';
import { Refusal, sentenceOf, server } from './server';
import { markKept, unsentStrokes } from './strokes';
import { say } from '../words';

/** How long a change rests before it is sent, and the pauses between retries while the server is away. */
const REST_MS = 350;
const RETRY_MS = [1000, 2000, 4000, 8000];

/** What the server is known to have. */
interface Known {
  readonly revision: number;
  readonly history: History;
}

let known: Known | undefined;
/** Histories that were sent since then without an answer. Any of them may have arrived: answers get lost, and browsers repeat requests on broken connections. */
let unanswered = new Set<History>();
let timer: ReturnType<typeof setTimeout> | undefined;
let sending = false;
let tries = 0;
/** The newest revision of the open version that the server has announced; another page or device may have made it. */
let told = 0;
/** The version that is being opened, with the newest revision announced meanwhile: changes that another page left unsent are sent as soon as the server can be reached. */
let opening: { readonly versionId: string; told: number } | undefined;
let moved: (versionId: string) => void = () => undefined;

/** Opens a version: from the server, with what this browser had not sent yet. `onMove` is told when work goes on in another version. */
export async function openVersion(versionId: string, onMove: (versionId: string) => void): Promise<void> {
  moved = onMove;
  const own = { versionId, told: 0 };
  opening = own;
  try {
    const version = await server.version(versionId);
    const photo = await server.photo(version.photoId);
    told = own.told;
    const history = { steps: version.steps, cursor: version.cursor };
    hasNow({ revision: version.revision, history });
    layOut(photo, version, history);
    await withUnsent(version);
  } finally {
    if (opening === own) opening = undefined;
  }
  await follow();
  const open = comeBack(versionId, 'open');
  if (open !== undefined && find(inForce(useBench.getState().history).layers, open)) openChannel(open);
}

/** Puts changes on the bench that this browser had not sent yet. */
async function withUnsent(version: Version): Promise<void> {
  const unsent = journal.read(version.id);
  if (!unsent) return;
  if (sameState(version, unsent)) journal.clear(version.id);
  else if (unsent.change.replaces === version.revision) useBench.setState({ history: applied(version, unsent.change) });
  else {
    const ours = { steps: unsent.steps, cursor: unsent.cursor };
    useBench.setState({ history: ours });
    await keepBoth(ours);
  }
}

hear('version', ({ id, revision }) => {
  if (opening?.versionId === id) opening.told = Math.max(opening.told, revision);
  if (id !== useBench.getState().versionId) return;
  told = Math.max(told, revision);
  void follow();
});
// What happened while nothing was heard is asked for; what could not be sent is sent.
hear('hello', () => {
  if (opening) opening.told = Infinity;
  if (!known) return;
  told = Infinity;
  if (useBench.getState().keep === 'waiting') later(0);
  else void follow();
});

/** Shows what another page or device did to the open version. Unsent changes are left alone: sending them keeps both. */
async function follow(): Promise<void> {
  const { versionId } = useBench.getState();
  if (!versionId || !known || told <= known.revision || !isAtRest()) return;
  const version = await server.version(versionId).catch(() => undefined);
  if (!version || versionId !== useBench.getState().versionId || !known || !isAtRest()) return;
  told = version.revision;
  if (version.revision <= known.revision) return;
  const history = { steps: version.steps, cursor: version.cursor };
  hasNow({ revision: version.revision, history });
  useBench.setState({ history, versionName: version.name });
}

/** Returns whether no control is held and nothing is unsent or being sent. */
function isAtRest(): boolean {
  const { history, draft } = useBench.getState();
  return !sending && draft === undefined && known !== undefined && history.steps === known.history.steps && history.cursor === known.history.cursor;
}

useBench.subscribe((now, before) => {
  if (before.draft && !now.draft) void follow();
  if (
    now.history === before.history ||
    now.versionId !== before.versionId ||
    !known ||
    (now.history.steps === known.history.steps && now.history.cursor === known.history.cursor)
  )
    return;
  remember();
  useBench.setState({ keep: now.keep === 'waiting' ? 'waiting' : 'keeping' });
  tries = 0;
  later(REST_MS);
});

function hasNow(has: Known): void {
  known = has;
  unanswered = new Set();
}

function remember(): void {
  const { photo, versionId, versionName, history } = useBench.getState();
  if (!known || !photo) return;
  journal.write(versionId, photo.id, versionName, changeTo(history, known), history);
}

/** Returns the change that brings the server to a history, with the strokes that the server lacks. */
function changeTo(history: History, { history: from, revision }: Known): VersionChange {
  const change = difference(from, history, revision);
  const steps = change.steps.map((step) => ({ ...step, stack: compact(step.stack) as Stack }));
  return { ...change, steps, strokes: unsentStrokes(change.steps) };
}

function later(ms: number): void {
  clearTimeout(timer);
  timer = setTimeout(() => void send(), ms);
}

async function send(): Promise<void> {
  const { versionId, history } = useBench.getState();
  // What was on the bench when it was left is sent by others.
  if (sending || !known || !versionId) return;
  const change = changeTo(history, known);
  sending = true;
  try {
    const { revision } = await server.keepVersion(versionId, change);
    change.strokes.forEach((painted) => markKept(nameOf(painted)));
    if (useBench.getState().versionId !== versionId) return;
    hasNow({ revision, history });
    tries = 0;
    settle(history);
  } catch (error) {
    await cope(error, history);
  } finally {
    sending = false;
  }
}

/** Concludes a successful send: everything is kept, unless more was changed since. */
function settle(sent: History): void {
  const { history, versionId } = useBench.getState();
  if (history === sent) {
    journal.clear(versionId);
    useBench.setState({ keep: 'kept' });
    return void follow();
  }
  remember();
  later(REST_MS);
}

async function cope(error: unknown, history: History): Promise<void> {
  const code = error instanceof Refusal ? error.code : 'internal';
  unanswered.add(history);
  if (code === 'conflict') {
    const arrived = await arrivedAfterAll();
    return arrived ? settle(arrived) : keepBoth(useBench.getState().history);
  }
  if (code === 'offline' || code === 'internal' || code === 'disk-full') {
    useBench.setState({ keep: 'waiting' });
    return later(RETRY_MS[Math.min(tries++, RETRY_MS.length - 1)] ?? 8000);
  }
  useBench.setState({ keep: 'refused' });
  notify(sentenceOf(error, say.state.thisChangeCouldNotBeKept));
}

/** Returns the unanswered history that the server has after all: it arrived, and only the answer was lost. */
async function arrivedAfterAll(): Promise<History | undefined> {
  const version = await server.version(useBench.getState().versionId).catch(() => undefined);
  if (!version || version.revision !== (known?.revision ?? 0) + 1) return undefined;
  const arrived = [...unanswered].find((sent) => sameState(version, sent));
  if (arrived) hasNow({ revision: version.revision, history: arrived });
  return arrived;
}

/** Resolves a conflict with another page: theirs stays, ours becomes a version of its own. */
async function keepBoth(history: History): Promise<void> {
  const { photo, versionId, versionName } = useBench.getState();
  if (!photo) return;
  try {
    const copy = await keepBeside(photo.id, versionName, history);
    journal.clear(versionId);
    hasNow({ revision: copy.revision, history });
    useBench.setState({ versionId: copy.id, versionName: copy.name, history, keep: 'kept', photo: await server.photo(photo.id) });
    notify(say.state.versionWasChangedSomewhereElseBoth(versionName, copy.name));
    moved(copy.id);
  } catch {
    useBench.setState({ keep: 'waiting' });
    later(RETRY_MS[Math.min(tries++, RETRY_MS.length - 1)] ?? 8000);
  }
}
