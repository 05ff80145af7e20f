import type { Stack } from '@bexlen/core';
import type { ToWorker } from '@bexlen/core/engine';
import { Cubes } from './cubes';
import { Pictures } from './pictures';
import { Strokes } from './strokes';

/** What stacks name, on its way from the server to the workers: colour tables, strokes, other photos. */
export class Supplies {
  private pictures!: Pictures;
  private all: readonly { ready(stacks: readonly Stack[]): boolean }[] = [];

  /**
   * @param send hands something to the workers.
   * @param come told when what was missing is there.
   */
  constructor(
    private readonly send: (message: ToWorker) => void,
    private readonly come: () => void,
    private readonly onFault: (message: string) => void,
    private readonly onNotice: (message: string) => void,
  ) {
    this.forget();
  }

  /** The workers have nothing any more. */
  forget(): void {
    const { send, come, onFault, onNotice } = this;
    this.pictures = new Pictures((name, pixels) => send({ type: 'picture', name, pixels }), come, onNotice);
    this.all = [
      new Cubes((name, cube) => send({ type: 'cube', name, cube }), come, onFault),
      new Strokes((strokes) => send({ type: 'strokes', strokes }), come, onNotice),
      this.pictures,
    ];
  }

  /** The long edge in which other photos are fetched. */
  fittedTo(edge: number): void {
    this.pictures.edge = edge;
  }

  /** Whether all that some stacks name is there. What is not is sent for, all of it at once. */
  ready(stacks: readonly Stack[]): boolean {
    return this.all.map((each) => each.ready(stacks)).every(Boolean);
  }
}
