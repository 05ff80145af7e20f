import { BexlenError, type FaultCode } from '../errors';
import { instantiate, newMemory, type Kernels } from '../pixels/kernels';
import type { FilmPlace, Shape, PhotoProxy } from '../geometry/shape';
import type { Layout, Rect } from '../pixels/picture';
import { Engine, heapIn, help, type Rendered, type Tones } from './engine';
import { Graphics, type Drawing, type GraphicsWish } from './graphics';
import type { Gamut } from '../pixels/gamut';
import type { Plan, StoreFormat } from './plan/plan';
import { Resources, type Cube, type Painted, type Pixels } from '../resources';
import type { Stack } from '../stack/schema';

/** One end of a message channel, in a page, a worker or Node.js alike. */
export interface Wire {
  postMessage(message: unknown, transfer?: readonly (ArrayBuffer | ImageBitmap)[]): void;
  onmessage: ((event: { data: never }) => void) | null;
}

/**
 * A photo in its working size; a coarse one for frames that must not wait; the small one that pictures in the rack are made from; a part of it at full size.
 */
export type Slot = 'photo' | 'coarse' | 'small' | 'detail';

export type ToWorker =
  /** Without shared memory the kernels come as bytes: not every browser workers compiled ones on. */
  | {
      readonly type: 'begin';
      readonly module: WebAssembly.Module | Uint8Array;
      readonly memory?: WebAssembly.Memory;
      readonly helpers: readonly Wire[];
    }
  | {
      readonly type: 'assist';
      readonly module: WebAssembly.Module;
      readonly memory: WebAssembly.Memory;
      readonly part: number;
      readonly parts: number;
      readonly lead: Wire;
    }
  /** A colour table that stacks may name. */
  | { readonly type: 'cube'; readonly name: string; readonly cube: Cube }
  /** Painted strokes that stacks may name, by their names. */
  | { readonly type: 'strokes'; readonly strokes: readonly (readonly [name: string, painted: Painted])[] }
  /** Another photo that stacks may name; nothing, if it is not to be had. */
  | { readonly type: 'picture'; readonly name: string; readonly pixels: Pixels | undefined }
  | ({ readonly type: 'graphics' } & GraphicsWish)
  /** What stacks named until now is not needed any more. */
  | { readonly type: 'forget' }
  /** The photo of all slots, small. */
  | { readonly type: 'proxy'; readonly proxy: PhotoProxy }
  /** Asks for the place of a photo in shared memory, to be filled from outside. */
  | { readonly type: 'room'; readonly layout: Layout }
  | { readonly type: 'open'; readonly slot: Slot; readonly layout: Layout; readonly bytes: Uint8Array; readonly place?: FilmPlace }
  /** Makes the picture that the first layer reads out of the photo of a slot; with `spend` the photo is let go. */
  | { readonly type: 'shape'; readonly slot: Slot; readonly shape: Shape; readonly spend?: boolean }
  | {
      readonly type: 'render';
      readonly slot: Slot;
      readonly id: number;
      readonly stack: Stack;
      readonly format: StoreFormat;
      readonly watch?: string;
      readonly mask?: string;
      readonly gamut?: Gamut;
      readonly area?: Rect;
      readonly spend?: boolean;
      readonly band?: number;
      /** Its pixels are not read: it may come as an image. */
      readonly onlySeen?: boolean;
    };

export type FromWorker =
  | { readonly type: 'ready' }
  /** Which machine draws from now on: the graphics processor of a name, or the processor, and why. */
  | ({ readonly type: 'machine' } & Drawing)
  | { readonly type: 'room'; readonly bytes: Uint8Array }
  | { readonly type: 'begun'; readonly id: number; readonly control: Int32Array; readonly tiles: number; readonly pixels: Uint8Array }
  /** From any worker. */
  | { readonly type: 'band'; readonly band: number }
  | {
      readonly type: 'rendered';
      readonly id: number;
      readonly width: number;
      readonly height: number;
      /** In shared memory these are the engine's own bytes: read them before the order after the next, or before the next where the photo was spent. */
      readonly pixels: Uint8Array;
      /** In the place of pixels, where they are only to be seen. */
      readonly image?: ImageBitmap;
      readonly tones?: Tones;
      readonly ms: number;
      /** The machine that made it. */
      readonly by: Drawing['machine'];
    }
  | { readonly type: 'stopped'; readonly id: number }
  | {
      readonly type: 'failed';
      readonly id?: number;
      readonly message: string;
      /** Of a fault that people can do something about. */
      readonly fault?: { readonly code: FaultCode; readonly hint: string };
    };

interface Assist {
  readonly plan: Plan;
  readonly controlAt: number;
}

/** What a worker does: it leads a pool, or helps in one. Called once at its start. */
export function startWorker(wire: Wire): void {
  let chain: Promise<void> = Promise.resolve();
  const resources = new Resources();
  let lead: Lead | undefined;
  wire.onmessage = ({ data }: { data: ToWorker }) => {
    chain = chain.then(async () => {
      try {
        if (data.type === 'forget') return resources.forget();
        if (data.type === 'cube') return resources.setCube(data.name, data.cube);
        if (data.type === 'strokes') return data.strokes.forEach(([name, painted]) => resources.strokes.set(name, painted));
        if (data.type === 'picture') return data.pixels ? resources.pictures.set(data.name, data.pixels) : resources.pictures.delete(data.name);
        if (data.type === 'assist') return await assist(data, wire);
        if (data.type === 'begin') {
          lead = await Lead.begin(data, resources, wire);
          return wire.postMessage({ type: 'ready' } satisfies FromWorker);
        }
        if (!lead) throw new Error('the pool has not begun');
        if (data.type === 'graphics') return lead.graphics.use(data);
        if (data.type === 'open') return lead.open(data);
        if (data.type === 'shape') return lead.shape(data);
        if (data.type === 'proxy') return lead.proxy(data.proxy);
        if (data.type === 'room') return wire.postMessage({ type: 'room', bytes: lead.room(data.layout) } satisfies FromWorker);
        return await lead.render(data, wire);
      } catch (error) {
        const message = error instanceof Error ? error.message : String(error);
        const fault = error instanceof BexlenError ? { fault: { code: error.code, hint: error.hint } } : {};
        wire.postMessage({ type: 'failed', ...(data.type === 'render' && { id: data.id }), message, ...fault } satisfies FromWorker);
      }
    });
  };
}

const telling = (wire: Wire) => (band: number) => wire.postMessage({ type: 'band', band } satisfies FromWorker);

async function assist({ module, memory, part, parts, lead }: Extract<ToWorker, { type: 'assist' }>, wire: Wire): Promise<void> {
  const kernels = await instantiate(module, memory);
  lead.onmessage = ({ data }: { data: Assist }) => help(data.plan, kernels, memory, data.controlAt, part, parts, telling(wire));
}

type RenderOrder = Extract<ToWorker, { type: 'render' }>;

class Lead {
  private readonly engines = new Map<Slot, Engine>();
  private drawn: PhotoProxy | undefined;

  private constructor(
    private readonly newEngine: (slot: Slot) => Engine,
    private readonly shared: boolean,
    readonly graphics: Graphics,
  ) {}

  static async begin({ module, memory, helpers }: Extract<ToWorker, { type: 'begin' }>, resources: Resources, wire: Wire): Promise<Lead> {
    const own = memory ?? newMemory(false);
    const compiled = module instanceof Uint8Array ? await WebAssembly.compile(module as Uint8Array<ArrayBuffer>) : module;
    const kernels: Kernels = await instantiate(compiled, own);
    const heap = heapIn(own);
    const newEngine = (slot: Slot): Engine => {
      const announce = (plan: Plan): void =>
        helpers.forEach((wire) => wire.postMessage({ plan, controlAt: engine.controlWords.byteOffset } satisfies Assist));
      // A small picture is made before others could begin.
      const engine: Engine = new Engine(own, kernels, slot === 'small' ? 1 : helpers.length + 1, announce, undefined, heap, resources);
      return engine;
    };
    const tell = (drawing: Drawing): void => wire.postMessage({ type: 'machine', ...drawing } satisfies FromWorker);
    return new Lead(newEngine, memory !== undefined, new Graphics(() => newEngine('small'), tell));
  }

  open({ slot, layout, bytes, place }: Extract<ToWorker, { type: 'open' }>): void {
    this.engine(slot).open(layout, place).set(bytes);
  }

  shape({ slot, shape, spend }: Extract<ToWorker, { type: 'shape' }>): void {
    this.opened(slot).shape(shape, spend);
  }

  proxy(proxy: PhotoProxy): void {
    this.drawn = proxy;
    this.engines.forEach((engine) => (engine.proxy = proxy));
  }

  room(layout: Layout): Uint8Array {
    if (!this.shared) throw new Error('memory that is not shared cannot be filled from outside');
    return this.engine('photo').open(layout);
  }

  async render(order: RenderOrder, wire: Wire): Promise<void> {
    const { slot, id, stack, format, watch, mask, gamut, area, spend, band } = order;
    const engine = this.opened(slot);
    const begin = performance.now();
    // Small pictures are of many stacks, each seen once: to compile them would take longer.
    const second = slot === 'small' ? undefined : await this.graphics.render(engine, order);
    if (second) {
      const { image, pixels } = second;
      return wire.postMessage({ ...answer(id, second, pixels, performance.now() - begin, 'gpu'), ...(image && { image }) }, image ? [image] : []);
    }
    const begun = (control: Int32Array, tiles: number, pixels: Uint8Array): void => {
      // Only the picture itself is stopped or followed.
      if (this.shared && slot === 'photo') wire.postMessage({ type: 'begun', id, control, tiles, pixels } satisfies FromWorker);
    };
    const start = performance.now();
    const rendered = engine.render({
      stack,
      format,
      begun,
      ...(watch !== undefined && { watch }),
      ...(mask !== undefined && { mask }),
      ...(gamut && { gamut }),
      ...(area && { area }),
      ...(spend && { spend }),
      ...(band && { band, bandDone: telling(wire) }),
    });
    if (!rendered) return wire.postMessage({ type: 'stopped', id } satisfies FromWorker);
    const ms = performance.now() - start;
    if (slot === 'photo' && !area) this.graphics.madeInstead(ms);
    const pixels = this.shared ? rendered.pixels : rendered.pixels.slice();
    wire.postMessage(answer(id, rendered, pixels, ms, 'cpu'));
  }

  private opened(slot: Slot): Engine {
    const engine = this.engines.get(slot);
    if (!engine) throw new Error(`no ${slot} photo is open`);
    return engine;
  }

  private engine(slot: Slot): Engine {
    const engine = this.engines.get(slot) ?? this.newEngine(slot);
    engine.proxy = this.drawn;
    this.engines.set(slot, engine);
    return engine;
  }
}

const answer = (id: number, { width, height, tones }: Rendered, pixels: Uint8Array, ms: number, by: Drawing['machine']): FromWorker => ({
  type: 'rendered',
  id,
  width,
  height,
  pixels,
  ms,
  by,
  ...(tones && { tones }),
});
