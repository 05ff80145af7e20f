import { instantiate, newMemory, type Kernels } from '../pixels/kernels';
import type { Layout } from '../pixels/picture';
import { Engine, help, type Rendered, type Tones } from './engine';
import type { Plan, StoreFormat } from './plan';
import type { Stack } from './schema';

/** One end of a message channel, in a page, a worker or Node.js alike. */
export interface Wire {
  postMessage(message: unknown, transfer?: readonly ArrayBuffer[]): void;
  onmessage: ((event: { data: never }) => void) | null;
}

/** A photo in its working size, or the small one that pictures in the rack are made from. */
export type Slot = 'photo' | 'small';

export type ToHand =
  | { readonly type: 'begin'; readonly module: WebAssembly.Module; readonly memory?: WebAssembly.Memory; readonly helpers: readonly Wire[] }
  | {
      readonly type: 'assist';
      readonly module: WebAssembly.Module;
      readonly memory: WebAssembly.Memory;
      readonly part: number;
      readonly parts: number;
      readonly lead: Wire;
    }
  | { readonly type: 'open'; readonly slot: Slot; readonly layout: Layout; readonly bytes: Uint8Array }
  | {
      readonly type: 'render';
      readonly slot: Slot;
      readonly id: number;
      readonly stack: Stack;
      readonly format: StoreFormat;
      readonly watch?: string;
    };

export type FromHand =
  | { readonly type: 'ready' }
  | { readonly type: 'begun'; readonly id: number; readonly control: Int32Array; readonly tiles: number }
  | {
      readonly type: 'rendered';
      readonly id: number;
      readonly width: number;
      readonly height: number;
      /** In shared memory these are the engine's own bytes: read them before the next order. */
      readonly pixels: Uint8Array;
      readonly tones?: Tones;
      readonly ms: number;
    }
  | { readonly type: 'stopped'; readonly id: number }
  | { readonly type: 'failed'; readonly id?: number; readonly message: string };

interface Assist {
  readonly plan: Plan;
  readonly controlAt: number;
}

/** What a worker does: it leads a crew, or helps in one. Called once at its start. */
export function startHand(wire: Wire): void {
  let chain: Promise<void> = Promise.resolve();
  let lead: Lead | undefined;
  wire.onmessage = ({ data }: { data: ToHand }) => {
    chain = chain.then(async () => {
      try {
        if (data.type === 'assist') return await assist(data);
        if (data.type === 'begin') {
          lead = await Lead.begin(data);
          return wire.postMessage({ type: 'ready' } satisfies FromHand);
        }
        if (!lead) throw new Error('the crew has not begun');
        if (data.type === 'open') return await lead.open(data);
        return lead.render(data, wire);
      } catch (error) {
        const message = error instanceof Error ? error.message : String(error);
        wire.postMessage({ type: 'failed', ...(data.type === 'render' && { id: data.id }), message } satisfies FromHand);
      }
    });
  };
}

async function assist({ module, memory, part, parts, lead }: Extract<ToHand, { type: 'assist' }>): Promise<void> {
  const kernels = await instantiate(module, memory);
  lead.onmessage = ({ data }: { data: Assist }) => help(data.plan, kernels, memory, data.controlAt, part, parts);
}

class Lead {
  private small: Engine | undefined;

  private constructor(
    private readonly module: WebAssembly.Module,
    private readonly photo: Engine,
    private readonly shared: boolean,
  ) {}

  static async begin({ module, memory, helpers }: Extract<ToHand, { type: 'begin' }>): Promise<Lead> {
    const own = memory ?? newMemory(false);
    const kernels: Kernels = await instantiate(module, own);
    const announce = (plan: Plan): void =>
      helpers.forEach((wire) => wire.postMessage({ plan, controlAt: engine.controlWords.byteOffset } satisfies Assist));
    const engine: Engine = new Engine(own, kernels, helpers.length + 1, announce);
    return new Lead(module, engine, memory !== undefined);
  }

  async open({ slot, layout, bytes }: Extract<ToHand, { type: 'open' }>): Promise<void> {
    (await this.engine(slot)).open(layout).set(bytes);
  }

  render({ slot, id, stack, format, watch }: Extract<ToHand, { type: 'render' }>, wire: Wire): void {
    const engine = slot === 'photo' ? this.photo : this.small;
    if (!engine) throw new Error('no small photo is open');
    const begun = (control: Int32Array, tiles: number): void => {
      if (this.shared && slot === 'photo') wire.postMessage({ type: 'begun', id, control, tiles } satisfies FromHand);
    };
    const start = performance.now();
    const rendered = engine.render({ stack, format, begun, ...(watch !== undefined && { watch }) });
    if (!rendered) return wire.postMessage({ type: 'stopped', id } satisfies FromHand);
    const pixels = this.shared && slot === 'photo' ? rendered.pixels : rendered.pixels.slice();
    wire.postMessage(answer(id, rendered, pixels, performance.now() - start));
  }

  private async engine(slot: Slot): Promise<Engine> {
    if (slot === 'photo') return this.photo;
    if (!this.small) {
      const memory = newMemory(this.shared, 256e6);
      this.small = new Engine(memory, await instantiate(this.module, memory), 1);
    }
    return this.small;
  }
}

const answer = (id: number, { width, height, tones }: Rendered, pixels: Uint8Array, ms: number): FromHand => ({
  type: 'rendered',
  id,
  width,
  height,
  pixels,
  ms,
  ...(tones && { tones }),
});
