import { GpuMachine, TooLarge, type Made } from './machine';
import type { Asked, Comparable, Opened } from './opened';
import { proves } from './proof';
import type { Area } from './shader';
import { Surface } from './surface';

/** After so long a frame is not waited for any more; of what is no more than software, which was asked for all the same, after so long. */
const MOST_MS = 4000;
const MOST_FORCED_MS = 60_000;
const LOSS_MS = 200;
/** A few small pictures, with all their shaders compiled for the first time. */
const PROOF_MS = 30_000;

/** Why the processor draws, in a sentence. */
export class Unfit extends Error {}
/** It did not answer in time; what it was about to make may still come. */
export class Late extends Unfit {}

interface Wanted {
  /** What is no more than software is taken too. */
  readonly forced: boolean;
  /** The name of the one that has proved itself before. */
  readonly proven: string | undefined;
  /** Told when it is gone. */
  readonly onLost: () => void;
  /** How long a picture may take, in ms, before the processor makes it; 4 s unless given, a minute of what is taken in any case. */
  readonly patienceMs?: number;
}

interface Frame extends Asked {
  readonly format: 'screen' | 'rgba8';
  readonly area?: Area;
  /** Nobody reads its pixels. */
  readonly onlySeen?: boolean;
}

/** The graphics processor of a page, once it has proved to make the pictures that the processor makes. */
export class Second {
  private patienceMs = MOST_MS;
  /** It was given back, which is no loss. */
  private ended = false;
  /** A frame that was not waited for any more is still being made. */
  private held = false;
  private readonly machines = new Map<Opened, GpuMachine>();

  private constructor(
    private readonly device: GPUDevice,
    /** What it calls itself. */
    readonly name: string,
    /** Where what is only seen comes to be. */
    private readonly surface: Surface | undefined,
  ) {}

  /**
   * @param newEngine an engine for pictures to compare with.
   * @throws {Unfit} where there is none, or it makes other pictures.
   */
  static async begin(
    gpu: GPU | undefined,
    newEngine: () => Comparable,
    { forced, proven, onLost, patienceMs = forced ? MOST_FORCED_MS : MOST_MS }: Wanted,
  ): Promise<Second> {
    if (!gpu) throw new Unfit('This browser does not offer its graphics processor.');
    const adapter = await gpu.requestAdapter({ powerPreference: 'high-performance' });
    if (!adapter) throw new Unfit('No graphics processor was found.');
    const { info, limits } = adapter;
    if (!forced && (info.isFallbackAdapter || info.architecture === 'swiftshader')) throw new Unfit('There is no graphics processor here.');
    const name = [info.vendor, info.architecture, info.device, info.description].filter(Boolean).join(' ') || 'unnamed';
    const { maxStorageBufferBindingSize, maxBufferSize } = limits;
    const device = await adapter.requestDevice({ requiredLimits: { maxStorageBufferBindingSize, maxBufferSize } });
    const second = new Second(device, name, await Surface.begin(device));
    second.patienceMs = patienceMs;
    // Held by what waits for it: where nothing holds it, it is cleared away while it works.
    void device.lost.then(() => {
      void adapter;
      if (!second.ended) onLost();
    });
    try {
      if (name !== proven && !(await inTime(second.proved(newEngine()), Math.max(PROOF_MS, patienceMs))))
        throw new Unfit('Its pictures differ from those of the processor.');
      return second;
    } catch (error) {
      second.end();
      throw error;
    }
  }

  /**
   * A picture of what an engine has open; of one that is only to be seen there may be an image in the place of pixels.
   * @returns nothing where shaders are still being compiled, a late frame is still on its way, or it would need too much memory: the engine then makes it.
   * @throws {Late} where it takes too long. @throws {Unfit} where it fails; nothing more is to be asked of it.
   */
  async render(opened: Opened, order: Frame): Promise<Made | undefined> {
    if (this.held) return undefined;
    const machine = this.machines.get(opened) ?? new GpuMachine(this.device);
    this.machines.set(opened, machine);
    const { program, sources } = opened.seen(order);
    const { format, area, gamut = 'srgb', onlySeen } = order;
    const onto = onlySeen && format === 'screen' && this.surface ? { surface: this.surface, gamut } : undefined;
    try {
      this.held = true;
      const made = machine.render(program, sources, { format, area, onto }).finally(() => (this.held = false));
      return await inTime(made, this.patienceMs);
    } catch (error) {
      if (error instanceof TooLarge) return undefined;
      if (error instanceof Late) throw error;
      // That it is lost is told a little later than what fails by it.
      await Promise.race([this.device.lost, new Promise((resolve) => setTimeout(resolve, LOSS_MS))]);
      throw error instanceof Unfit ? error : new Unfit('The graphics processor failed.');
    }
  }

  end(): void {
    this.ended = true;
    this.machines.forEach((machine) => machine.end());
    this.device.destroy();
  }

  private async proved(engine: Comparable): Promise<boolean> {
    const machine = new GpuMachine(this.device);
    try {
      return await proves(machine, engine);
    } finally {
      machine.end();
    }
  }
}

async function inTime<T>(work: Promise<T>, ms: number): Promise<T> {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const late = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new Late('The graphics processor did not answer in time.')), ms);
  });
  try {
    return await Promise.race([work, late]);
  } finally {
    clearTimeout(timer);
  }
}
