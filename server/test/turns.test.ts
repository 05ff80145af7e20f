import { Shared } from '../src/jobs/shared';
import { Turns } from '../src/jobs/turns';

const rest = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

describe('work of which one is done at a time', () => {
  it('lets the newest wish go first, and leaves out what nobody waits for', async () => {
    const turns = new Turns(10_000);
    const done: string[] = [];
    let open = (): void => undefined;
    const gate = new Promise<void>((resolve) => (open = resolve));
    const left = new AbortController();
    const all = [
      turns.take(undefined, async () => {
        await gate;
        done.push('first');
      }),
      ...['older', 'newer', 'newest'].map((name) => turns.take(undefined, async () => void done.push(name))),
      turns.take(left.signal, async () => void done.push('left')),
    ];
    left.abort();
    open();
    const outcomes = await Promise.allSettled(all);
    expect(done).toEqual(['first', 'newest', 'newer', 'older']);
    expect(outcomes.at(-1)).toMatchObject({ status: 'rejected', reason: { code: 'cancelled' } });
  });

  it('takes no turn from others when somebody leaves whose turn has come', async () => {
    const turns = new Turns(10_000);
    let open = (): void => undefined;
    const gate = new Promise<void>((resolve) => (open = resolve));
    const first = turns.take(undefined, () => gate);
    const left = new AbortController();
    const second = turns.take(left.signal, (signal) => {
      left.abort();
      return signal.aborted ? Promise.reject(new Error('given up')) : Promise.resolve();
    });
    open();
    await first;
    await expect(second).rejects.toThrow('given up');
    await expect(turns.take(undefined, () => Promise.resolve('made'))).resolves.toBe('made');
    await turns.close();
  });

  it('stops what takes too long with a sentence, and goes on with the next', async () => {
    const turns = new Turns(20);
    const slow = turns.take(undefined, async (signal) => {
      while (!signal.aborted) await rest(5);
      throw new Error('stopped');
    });
    const next = turns.take(undefined, () => Promise.resolve('made'));
    await expect(slow).rejects.toMatchObject({ code: 'too-slow' });
    await expect(next).resolves.toBe('made');
  });

  it('begins nothing any more once it is closed, and waits for what is under way', async () => {
    const turns = new Turns(10_000);
    const done: string[] = [];
    const last = turns.take(undefined, async () => {
      await rest(20);
      done.push('last');
    });
    await rest(1);
    const late = turns.take(undefined, async () => void done.push('late'));
    await Promise.all([turns.close(), expect(late).rejects.toMatchObject({ code: 'cancelled' }), last]);
    expect(done).toEqual(['last']);
  });
});

describe('work that several wait for', () => {
  it('is done once for all of them, and given up when the last one leaves', async () => {
    const shared = new Shared<string>();
    let begun = 0;
    const make = async (signal: AbortSignal): Promise<string> => {
      begun++;
      for (let i = 0; i < 20; i++) {
        if (signal.aborted) throw new Error('given up');
        await rest(5);
      }
      return 'made';
    };
    const [one, two] = [new AbortController(), new AbortController()];
    const asks = [shared.ask('a', one.signal, make), shared.ask('a', two.signal, make)];
    one.abort();
    expect(await Promise.all(asks)).toEqual(['made', 'made']);
    expect(begun).toBe(1);
    const alone = new AbortController();
    const given = shared.ask('a', alone.signal, make);
    alone.abort();
    await expect(given).rejects.toThrow('given up');
    expect(begun).toBe(2);
  });
});
