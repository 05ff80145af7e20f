import type { Gamut } from '../pixels/gamut';
import type { Layout } from '../pixels/picture';
import { PHOTO, type Program, type Value } from '../stack/program';
import { Arena } from './arena';
import { GpuPlan, type Ground } from './plan';
import { type Area, type Dispatch, type Leaf } from './shader';
import { strideFor, type Surface } from './surface';

/** Dynamic offsets are multiples of so many bytes. */
const STRIDE = 256;
/** Tables that no program has used for so many frames are let go. */
const IDLE = 64;

/** Pixels as they lie in a file, and a name that stands for them. */
export interface Source {
  readonly key: string;
  readonly layout: Layout;
  readonly bytes: Uint8Array;
}

export interface Ask {
  /** Four floats a pixel, premultiplied, or bytes as the engine's formats of these names have them. */
  readonly format: 'float' | 'screen' | 'rgba8';
  /** The part of the picture that is wanted; all of it, unless given. */
  readonly area?: Area | undefined;
  /** Where a picture for a screen is to be seen without being read: its pixels are not returned then. */
  readonly onto?: { readonly surface: Surface; readonly gamut: Gamut } | undefined;
  /** Waits for shaders that are not compiled yet; otherwise there is no picture this time. */
  readonly patient?: boolean;
}

export interface Made {
  /** Empty where there is an image to be seen instead. */
  readonly pixels: Uint8Array;
  readonly image?: ImageBitmap;
  /** Where the program watches a layer: tones of it and of what lies beneath, 256 each. */
  readonly tones?: { readonly own: Uint32Array; readonly beneath: Uint32Array };
}

/** A picture that needs more memory or more work than the graphics processor is to be asked for at a time. */
export class TooLarge extends Error {}

/** What all shaders are bound to, in the order of their bindings. */
const NAMES = ['mem', 'bytes', 'tables', 'given', 'screen', 'counts'] as const;
type Name = (typeof NAMES)[number];
const WRITTEN: readonly Name[] = ['mem', 'screen', 'counts'];
/** Of what a layer makes and of what lies beneath it, 256 each. */
const COUNTS = 512;
/** What a page may take of the graphics processor's memory for one photo, for each buffer. */
const MOST_BYTES = 256e6;

/** Operations of one frame: a phone of the middle class takes 40 ms for them. The page cannot be moved meanwhile, and what takes seconds is cut off. */
const MOST_OPERATIONS = 20e9;

/** Flags of WebGPU (W3C WebGPU, 5.1, 5.2 and 8.2). */
const USAGE = { mapRead: 1, copyFrom: 4, copyTo: 8, storage: 128 };
const READ = 1;
const COMPUTE = 4;

const even = (n: number, to: number): number => Math.ceil(n / to) * to;

/** A compiled shader, once it is. */
interface Pipeline {
  readonly made: Promise<GPUComputePipeline>;
  ready?: GPUComputePipeline;
}

/** Carries out programs on a graphics processor: the second machine beside the engine's own, with the same taps, levels and noise. One program at a time. */
export class GpuMachine {
  /** What the last program came to: its dispatches, and how many of their shaders were new. */
  last: { readonly dispatches: readonly Dispatch[]; readonly compiled: number } = { dispatches: [], compiled: 0 };
  private readonly layoutOfGroup: GPUBindGroupLayout;
  private readonly pipelineLayout: GPUPipelineLayout;
  private readonly pipelines = new Map<string, Pipeline>();
  private readonly buffers = new Map<Name, GPUBuffer>();
  private group: { readonly made: GPUBindGroup; readonly givenBytes: number } | undefined;
  private readonly images = new Arena();
  private readonly kept: Ground['kept'] = new Map();
  private readonly words = new Arena();
  private readonly sources = new Map<string, number>();
  private readonly floats = new Arena();
  private readonly tables = new Map<string, { readonly at: number; used: number }>();
  private unsent: { readonly name: Name; readonly at: number; readonly data: Uint8Array | Float32Array }[] = [];
  /** What the dispatch with the most numbers is given, so far. */
  private givenBytes = STRIDE;
  private frame = 0;
  private photo = '';
  /** The values of the last program. */
  private before: ReadonlySet<Value> = new Set();

  constructor(private readonly device: GPUDevice) {
    this.layoutOfGroup = device.createBindGroupLayout({
      entries: NAMES.map((name, binding) => ({
        binding,
        visibility: COMPUTE,
        buffer: { type: WRITTEN.includes(name) ? 'storage' : 'read-only-storage', hasDynamicOffset: name === 'given' },
      })),
    });
    this.pipelineLayout = device.createPipelineLayout({ bindGroupLayouts: [this.layoutOfGroup] });
  }

  /**
   * Makes the picture of a program. Values mean the same pixels from one program to the next as long as the photo has the same key.
   * @param sources the photo's pixels, by its value, and those of other photos that the program names, resampled to be as large.
   * @returns nothing where shaders are still being compiled, unless it was patient.
   * @throws {TooLarge} where it needs more memory or work than it may have.
   */
  async render(program: Program, sources: ReadonlyMap<Value, Source>, ask: Ask): Promise<Made | undefined> {
    try {
      return await this.made(program, sources, ask);
    } catch (error) {
      // What it was about to make is not there.
      this.forget();
      throw error;
    }
  }

  /** Gives back all memory. */
  end(): void {
    this.buffers.forEach((buffer) => buffer.destroy());
    this.buffers.clear();
    this.forget();
  }

  private async made(program: Program, sources: ReadonlyMap<Value, Source>, { format, area, onto, patient }: Ask): Promise<Made | undefined> {
    this.frame++;
    const photo = sources.get(PHOTO);
    if (!photo) throw new Error('a program needs its photo');
    if (photo.key !== this.photo) this.forget();
    this.photo = photo.key;
    const { width, height } = photo.layout;
    const wanted = area ?? { x: 0, y: 0, w: width, h: height };
    const count = wanted.w * wanted.h;
    const stride = onto ? strideFor(wanted.w) : wanted.w;
    const ground: Ground = {
      layout: photo.layout,
      images: this.images,
      kept: this.kept,
      bytes: this.brought(sources),
      tableAt: (name, make) => this.tableAt(name, make),
    };
    const plan = new GpuPlan(ground, program, this.before);
    this.before = new Set(program.steps.map(({ to }) => to));
    const out = format === 'float' ? this.images.acquire(count) : 0;
    plan.make(program.out, wanted, format === 'float' ? { to: 'image', at: out } : { to: format, stride });
    if (format === 'float') this.images.release(out);
    const { watched } = program;
    if (watched) {
      plan.make(watched.own, wanted, { to: 'counts', at: 0, weights: watched.weights });
      plan.make(watched.beneath, wanted, { to: 'counts', at: COUNTS / 2, weights: watched.weights });
    }
    plan.done();
    const operations = plan.dispatches.reduce((sum, { work }) => sum + work.operations, 0);
    if (operations > MOST_OPERATIONS) throw new TooLarge(`${Math.round(operations / 1e9)} G operations are too many for a frame`);
    const known = this.pipelines.size;
    const wished = plan.dispatches.map(({ source }) => this.pipeline(source));
    this.last = { dispatches: plan.dispatches, compiled: this.pipelines.size - known };
    if (!patient && wished.some(({ ready }) => !ready)) {
      // What was to be kept is not made.
      this.images.clear();
      this.kept.clear();
      return undefined;
    }
    const pipelines = await Promise.all(wished.map(({ made }) => made));
    this.room('mem', 16 * this.images.most);
    this.room('screen', 4 * stride * wanted.h);
    this.room('bytes', 4 * this.words.most);
    this.room('tables', 4 * this.floats.most);
    this.room('counts', 4 * COUNTS);
    const offsets = this.give(plan.dispatches);
    this.unsent.forEach(({ name, at, data }) => this.device.queue.writeBuffer(this.buffer(name), at, data as BufferSource & { buffer: ArrayBuffer }));
    this.unsent = [];
    this.letTablesGo();
    const [from, at, bytes]: [Name, number, number] = format === 'float' ? ['mem', 16 * out, 16 * count] : ['screen', 0, 4 * count];
    const read = this.carriedOut(plan.dispatches, pipelines, offsets, [
      ...(onto ? [] : [[from, at, bytes] as const]),
      ...(watched ? [['counts', 0, 4 * COUNTS] as const] : []),
    ]);
    // At once, and only then waited for: a canvas may lose what was drawn on it meanwhile.
    const image = onto?.surface.take(this.buffer('screen'), wanted.w, wanted.h, onto.gamut);
    const result = await read;
    const pixels = result.subarray(0, onto ? 0 : bytes);
    const made = { pixels, ...(image && { image }) };
    if (!watched) return made;
    const tones = new Uint32Array(result.slice(pixels.length).buffer);
    return { ...made, tones: { own: tones.slice(0, COUNTS / 2), beneath: tones.slice(COUNTS / 2) } };
  }

  /** @returns bytes of some buffers, one behind the other. */
  private async carriedOut(
    dispatches: readonly Dispatch[],
    pipelines: readonly GPUComputePipeline[],
    offsets: readonly number[],
    wanted: readonly (readonly [from: Name, at: number, bytes: number])[],
  ): Promise<Uint8Array> {
    const { device } = this;
    const encoder = device.createCommandEncoder();
    encoder.clearBuffer(this.buffer('counts'));
    const pass = encoder.beginComputePass();
    dispatches.forEach(({ groups }, i) => {
      pass.setPipeline(pipelines[i] as GPUComputePipeline);
      pass.setBindGroup(0, this.bindGroup(), [offsets[i] as number]);
      pass.dispatchWorkgroups(...groups);
    });
    pass.end();
    if (wanted.length === 0) {
      device.queue.submit([encoder.finish()]);
      await device.queue.onSubmittedWorkDone();
      return new Uint8Array();
    }
    const read = device.createBuffer({ size: wanted.reduce((sum, [, , bytes]) => sum + bytes, 0), usage: USAGE.mapRead | USAGE.copyTo });
    let end = 0;
    for (const [from, at, bytes] of wanted) encoder.copyBufferToBuffer(this.buffer(from), at, read, (end += bytes) - bytes, bytes);
    device.queue.submit([encoder.finish()]);
    try {
      await read.mapAsync(READ);
      return new Uint8Array(read.getMappedRange()).slice();
    } finally {
      read.destroy();
    }
  }

  /** Where each photo's bytes lie; those that are new are sent, those that this program does not name are let go. */
  private brought(sources: ReadonlyMap<Value, Source>): Map<Value, Extract<Leaf, { as: 'bytes' }>> {
    const named = new Set([...sources.values()].map(({ key }) => key));
    for (const [key, at] of this.sources)
      if (!named.has(key)) {
        this.words.release(at);
        this.sources.delete(key);
      }
    return new Map(
      [...sources].map(([value, { key, layout, bytes }]) => {
        let at = this.sources.get(key);
        if (at === undefined) {
          const padded = new Uint8Array(even(bytes.length, 4));
          padded.set(bytes);
          at = this.words.acquire(padded.length / 4);
          this.sources.set(key, at);
          this.unsent.push({ name: 'bytes', at: 4 * at, data: padded });
        }
        return [value, { as: 'bytes', at, layout }];
      }),
    );
  }

  private tableAt(name: string, make: () => Float32Array): number {
    const known = this.tables.get(name);
    if (known) {
      known.used = this.frame;
      return known.at;
    }
    const data = make();
    const at = this.floats.acquire(data.length);
    this.tables.set(name, { at, used: this.frame });
    this.unsent.push({ name: 'tables', at: 4 * at, data });
    return at;
  }

  private letTablesGo(): void {
    for (const [name, { at, used }] of this.tables)
      if (used < this.frame - IDLE) {
        this.floats.release(at);
        this.tables.delete(name);
      }
  }

  /** Sends the numbers of all dispatches; returns where each one's begin. */
  private give(dispatches: readonly Dispatch[]): number[] {
    const most = even(Math.max(STRIDE, ...dispatches.map(({ words }) => 4 * words.length)), STRIDE);
    const lengths = dispatches.map(({ words }) => even(4 * words.length, STRIDE));
    let end = 0;
    const offsets = lengths.map((length) => (end += length) - length);
    const data = new Uint32Array((end + most) / 4);
    dispatches.forEach(({ words }, i) => data.set(words, (offsets[i] as number) / 4));
    this.room('given', data.byteLength);
    if (this.group && this.group.givenBytes < most) this.group = undefined;
    this.givenBytes = Math.max(this.givenBytes, most);
    this.device.queue.writeBuffer(this.buffer('given'), 0, data);
    return offsets;
  }

  private bindGroup(): GPUBindGroup {
    const { givenBytes } = this;
    if (!this.group) {
      const entries = NAMES.map((name, binding) => ({
        binding,
        resource: { buffer: this.buffer(name), ...(name === 'given' && { size: givenBytes }) },
      }));
      this.group = { made: this.device.createBindGroup({ layout: this.layoutOfGroup, entries }), givenBytes };
    }
    return this.group.made;
  }

  private pipeline(source: string): Pipeline {
    const known = this.pipelines.get(source);
    if (known) return known;
    const module = this.device.createShaderModule({ code: source });
    const pipeline: Pipeline = {
      made: this.device.createComputePipelineAsync({ layout: this.pipelineLayout, compute: { module, entryPoint: 'main' } }).then(
        (made) => (pipeline.ready = made),
        async (error: unknown) => {
          const { messages } = await module.getCompilationInfo();
          throw new Error(messages.map(({ lineNum, message }) => `line ${lineNum}: ${message}`).join('; ') || String(error));
        },
      ),
    };
    this.pipelines.set(source, pipeline);
    // Told to whoever waits for it; without anybody, the processor goes on.
    pipeline.made.catch(() => undefined);
    return pipeline;
  }

  private buffer(name: Name): GPUBuffer {
    const buffer = this.buffers.get(name);
    if (!buffer) throw new Error(`there is no ${name} yet`);
    return buffer;
  }

  /** Makes a buffer at least so large; what it held is kept. */
  private room(name: Name, bytes: number): void {
    const { device } = this;
    const old = this.buffers.get(name);
    if (old && old.size >= bytes) return;
    const most = Math.min(MOST_BYTES, device.limits.maxStorageBufferBindingSize, device.limits.maxBufferSize);
    if (bytes > most)
      throw new TooLarge(`${Math.round(bytes / 1e6)} MB are more than the ${Math.round(most / 1e6)} MB that the graphics processor gives`);
    const size = Math.min(even(Math.max(bytes, STRIDE, old ? 1.5 * old.size : 0), STRIDE), even(most - STRIDE, STRIDE));
    const made = device.createBuffer({ size: Math.max(size, bytes), usage: USAGE.storage | USAGE.copyFrom | USAGE.copyTo });
    if (old) {
      const encoder = device.createCommandEncoder();
      encoder.copyBufferToBuffer(old, 0, made, 0, old.size);
      device.queue.submit([encoder.finish()]);
      old.destroy();
    }
    this.buffers.set(name, made);
    this.group = undefined;
  }

  private forget(): void {
    this.images.clear();
    this.kept.clear();
    this.words.clear();
    this.sources.clear();
    this.floats.clear();
    this.tables.clear();
    this.unsent = [];
    this.photo = '';
    this.before = new Set();
  }
}
