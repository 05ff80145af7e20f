import type { Layout } from '../pixels/picture';
import { PHOTO, type Program, type Value } from '../stack/program';
import { Arena } from './arena';
import { GpuPlan, type Ground } from './plan';
import { GROUP, type Area, type Dispatch, type Leaf } from './shader';

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

/** A picture that does not fit into what the graphics processor gives at a time. */
export class TooLarge extends Error {}

/** What all shaders are bound to, in the order of their bindings. */
const NAMES = ['mem', 'bytes', 'tables', 'given', 'screen'] as const;
type Name = (typeof NAMES)[number];
const WRITTEN: readonly Name[] = ['mem', 'screen'];

/** Flags of WebGPU (W3C WebGPU, 5.1, 5.2 and 8.2). */
const USAGE = { mapRead: 1, copyFrom: 4, copyTo: 8, storage: 128 };
const READ = 1;
const COMPUTE = 4;

const even = (n: number, to: number): number => Math.ceil(n / to) * to;

/** Carries out programs on a graphics processor: the second machine beside the engine's own, with the same taps, levels and noise. One program at a time. */
export class GpuMachine {
  /** What the last program came to: its dispatches, and how many of their shaders were new. */
  last: { readonly dispatches: readonly Dispatch[]; readonly compiled: number } = { dispatches: [], compiled: 0 };
  private readonly layoutOfGroup: GPUBindGroupLayout;
  private readonly pipelineLayout: GPUPipelineLayout;
  private readonly pipelines = new Map<string, Promise<GPUComputePipeline>>();
  private readonly buffers = new Map<Name, GPUBuffer>();
  private group: { readonly made: GPUBindGroup; readonly givenBytes: number } | undefined;
  private readonly images = new Arena();
  private readonly kept: Ground['kept'] = new Map();
  private readonly words = new Arena();
  private readonly sources = new Map<string, number>();
  private readonly floats = new Arena();
  private readonly tables = new Map<string, { readonly at: number; used: number }>();
  private unsent: { readonly name: Name; readonly at: number; readonly data: Uint8Array | Float32Array }[] = [];
  private frame = 0;
  private photo = '';

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
   * @param to four floats a pixel, premultiplied, or four bytes.
   * @throws {TooLarge} where it needs more memory than it may have.
   */
  async render(program: Program, sources: ReadonlyMap<Value, Source>, to: 'float' | 'screen', area?: Area): Promise<Uint8Array> {
    try {
      return await this.made(program, sources, to, area);
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

  private async made(program: Program, sources: ReadonlyMap<Value, Source>, to: 'float' | 'screen', area?: Area): Promise<Uint8Array> {
    this.frame++;
    const photo = sources.get(PHOTO);
    if (!photo) throw new Error('a program needs its photo');
    if (photo.key !== this.photo) this.forget();
    this.photo = photo.key;
    const { width, height } = photo.layout;
    const wanted = area ?? { x: 0, y: 0, w: width, h: height };
    const count = wanted.w * wanted.h;
    const ground: Ground = {
      layout: photo.layout,
      images: this.images,
      kept: this.kept,
      bytes: this.brought(sources),
      tableAt: (name, make) => this.tableAt(name, make),
    };
    const plan = new GpuPlan(ground, program);
    const out = to === 'float' ? this.images.acquire(count) : 0;
    plan.make(program.out, wanted, to === 'float' ? { to: 'image', at: out } : { to: 'screen' });
    if (to === 'float') this.images.release(out);
    plan.done();
    const known = this.pipelines.size;
    const pipelines = await Promise.all(plan.dispatches.map(({ source }) => this.pipeline(source)));
    this.last = { dispatches: plan.dispatches, compiled: this.pipelines.size - known };
    this.room('mem', 16 * this.images.most);
    this.room('screen', 4 * count);
    this.room('bytes', 4 * this.words.most);
    this.room('tables', 4 * this.floats.most);
    const offsets = this.give(plan.dispatches);
    this.unsent.forEach(({ name, at, data }) => this.device.queue.writeBuffer(this.buffer(name), at, data as BufferSource & { buffer: ArrayBuffer }));
    this.unsent = [];
    this.letTablesGo();
    const [from, at, bytes]: [Name, number, number] = to === 'float' ? ['mem', 16 * out, 16 * count] : ['screen', 0, 4 * count];
    return this.carriedOut(plan.dispatches, pipelines, offsets, from, at, bytes);
  }

  private async carriedOut(
    dispatches: readonly Dispatch[],
    pipelines: readonly GPUComputePipeline[],
    offsets: readonly number[],
    from: Name,
    at: number,
    bytes: number,
  ): Promise<Uint8Array> {
    const { device } = this;
    const encoder = device.createCommandEncoder();
    const pass = encoder.beginComputePass();
    dispatches.forEach(({ width, height }, i) => {
      pass.setPipeline(pipelines[i] as GPUComputePipeline);
      pass.setBindGroup(0, this.bindGroup(), [offsets[i] as number]);
      pass.dispatchWorkgroups(Math.ceil(width / GROUP), Math.ceil(height / GROUP));
    });
    pass.end();
    const read = device.createBuffer({ size: bytes, usage: USAGE.mapRead | USAGE.copyTo });
    encoder.copyBufferToBuffer(this.buffer(from), at, read, 0, bytes);
    device.queue.submit([encoder.finish()]);
    await read.mapAsync(READ);
    const made = new Uint8Array(read.getMappedRange()).slice();
    read.destroy();
    return made;
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
  private givenBytes = STRIDE;

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

  private pipeline(source: string): Promise<GPUComputePipeline> {
    const known = this.pipelines.get(source);
    if (known) return known;
    const module = this.device.createShaderModule({ code: source });
    const made = this.device
      .createComputePipelineAsync({ layout: this.pipelineLayout, compute: { module, entryPoint: 'main' } })
      .catch(async (error: unknown) => {
        const { messages } = await module.getCompilationInfo();
        throw new Error(messages.map(({ lineNum, message }) => `line ${lineNum}: ${message}`).join('; ') || String(error));
      });
    this.pipelines.set(source, made);
    made.catch(() => this.pipelines.delete(source));
    return made;
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
    const most = Math.min(device.limits.maxStorageBufferBindingSize, device.limits.maxBufferSize);
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
  }
}
