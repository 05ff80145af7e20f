import { Late, Second, Trust, Unfit } from '../gpu';
import type { Engine, Order, Rendered } from './engine';

/** The machine that draws; of the processor, whether that is since the other one was left, which may do better another time. */
export type Drawing = { readonly machine: 'gpu'; readonly name: string } | { readonly machine: 'cpu'; readonly why: string; readonly left?: true };

/** A picture that it made: where that is only seen, an image in the place of its pixels. */
export type Drawn = Rendered & { readonly image?: ImageBitmap };

/** Whether the graphics processor may draw; `forced` where it is no more than software or slow, too. `proven` is the name of one that made the right pictures before. */
export interface GraphicsWish {
  readonly use: 'off' | 'on' | 'forced';
  readonly proven?: string | undefined;
}

/** Frames of it that are looked at before its pace is believed, and how many times as long as the processor it may take. */
const FRAMES = 8;
const MOST_SLOWER = 2;

/** The graphics processor beside the engines of a pool: until it has proved itself, and wherever it fails, they go on. */
export class Graphics {
  /** While it draws. */
  private second: Second | undefined;
  /** Wishes so far: the last one counts. */
  private wished = 0;
  private forced = false;
  /** Milliseconds of its last frames, and of the last one that the processor made in the place of one. */
  private frames: number[] = [];
  private instead = 0;
  private trust = new Trust();

  /**
   * @param newEngine for pictures to compare with.
   * @param tell of which machine draws from now on.
   */
  constructor(
    private readonly newEngine: () => Engine,
    private readonly tell: (drawing: Drawing) => void,
  ) {}

  /** Has it draw or not, from when it is ready on. */
  use({ use, proven }: GraphicsWish): void {
    this.leave();
    const wish = this.wished;
    this.forced = use === 'forced';
    if (use === 'off') return this.tell({ machine: 'cpu', why: 'The graphics processor is switched off.' });
    const onLost = (): void => {
      if (wish === this.wished) this.leave('The graphics processor was lost.');
    };
    // Pictures go on being made meanwhile.
    Second.begin(globalThis.navigator?.gpu, this.newEngine, { forced: this.forced, proven, onLost }).then(
      (second) => {
        if (wish !== this.wished) return second.end();
        this.second = second;
        this.tell({ machine: 'gpu', name: second.name });
      },
      (error: unknown) => {
        if (wish === this.wished) this.tell({ machine: 'cpu', why: error instanceof Unfit ? error.message : 'The graphics processor failed.' });
      },
    );
  }

  /** The picture of an order, where it draws and can make this one; otherwise the engine is to make it. Where it is late, it is asked for less at first; where it fails, for nothing more. */
  async render(engine: Engine, { format, spend, band, ...order }: Order & { readonly onlySeen?: boolean }): Promise<Drawn | undefined> {
    const { second } = this;
    if (!second || spend || band || (format !== 'screen' && format !== 'rgba8')) return undefined;
    const { w: width, h: height } = order.area ?? engine.size;
    const begun = performance.now();
    if (!this.trust.allows(width * height, begun)) return undefined;
    try {
      const made = await second.render(engine, { ...order, format });
      if (!made) return undefined;
      this.trust.made(width * height, performance.now());
      if (!order.area) this.notePace(performance.now() - begun);
      return { width, height, ...made };
    } catch (error) {
      // What is wrong with the order itself, the engine says too.
      const again = error instanceof Late && this.trust.late(width * height, performance.now());
      if (error instanceof Unfit && second === this.second && !again) this.leave(error.message);
      return undefined;
    }
  }

  /** A whole picture that it could not make yet took the processor so long. */
  madeInstead(ms: number): void {
    if (this.second) this.instead = ms;
  }

  private notePace(ms: number): void {
    this.frames.push(ms);
    if (this.frames.length < FRAMES) return;
    const [middle = 0] = this.frames.sort((a, b) => a - b).slice(FRAMES >> 1);
    this.frames = [];
    if (!this.forced && this.instead > 0 && middle > MOST_SLOWER * this.instead) this.leave('The graphics processor is slower here.');
  }

  private leave(why?: string): void {
    const { second } = this;
    this.wished++;
    this.second = undefined;
    this.frames = [];
    this.instead = 0;
    this.trust = new Trust();
    second?.end();
    if (why !== undefined) this.tell({ machine: 'cpu', why, left: true });
  }
}
