import { fileLabel, namedIn, readCube, type Cube, type Stack } from '@bexlen/core';
import { cubeUrl } from '../state/server';
import { say } from '../words';

/** The colour tables that stacks name, on their way from the server to the workers. */
export class Cubes {
  private readonly there = new Set<string>();
  private readonly coming = new Set<string>();

  /**
   * @param send hands a table to the workers.
   * @param come told when tables that were missing are there.
   */
  constructor(
    private readonly send: (name: string, cube: Cube) => void,
    private readonly come: () => void,
    private readonly fault: (message: string) => void,
  ) {}

  /** Whether all tables that some stacks name are with the workers; those that are not are sent for. */
  ready(stacks: readonly Stack[]): boolean {
    const missing = namedIn(
      stacks.flatMap(({ layers }) => layers),
      'file',
    ).filter((name) => !this.there.has(name));
    const unasked = missing.filter((name) => !this.coming.has(name));
    if (unasked.length > 0) void this.fetchAll(unasked);
    return missing.length === 0;
  }

  private async fetchAll(names: readonly string[]): Promise<void> {
    names.forEach((name) => this.coming.add(name));
    await Promise.all(names.map((name) => this.fetch(name).catch(() => undefined)));
    names.forEach((name) => this.coming.delete(name));
    if (names.every((name) => this.there.has(name))) this.come();
  }

  private async fetch(name: string): Promise<void> {
    const answer = await fetch(cubeUrl(name));
    if (!answer.ok) return this.fault(say.engine.theCubeFileFileIsNot(fileLabel(name)));
    this.send(name, readCube(await answer.text()));
    this.there.add(name);
  }
}
