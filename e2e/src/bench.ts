import { type Locator, type Page } from '@playwright/test';
import { expect } from './expecting';
import type { KindLayer, Stack } from '@bexlen/core';
import { demo, type House } from './house';
import { fingers, mouse, penStroke, settled, type Hands } from './hands';
import { button, importAndOpen, radio, slider, stackNowWhenKept } from './treatment';
import { en } from './words';

interface At {
  readonly x: number;
  readonly y: number;
}

/** What hands do on the bench, counted from the open photo on. */
export class Bench {
  private readonly begun: number;

  constructor(
    private readonly house: House,
    readonly page: Page,
    readonly hands: Hands,
    private readonly name: string,
  ) {
    this.begun = hands.count();
  }

  private extra = 0;

  get photo(): Locator {
    return this.page.getByRole('img', { name: `${this.name}, as it is now` });
  }

  /** Adds a layer where something was drawn or tapped on the photo before its kind was chosen. */
  async addAt(kind: string, place: () => Promise<void>, outside = false): Promise<void> {
    await this.openRack();
    // What is drawn before the rack is there belongs to something else.
    await expect(button(this.page, new RegExp(`^Add ${kind} `))).toBeVisible();
    await place();
    await expect(button(this.page, /^Everywhere$/)).toBeVisible();
    if (outside) await this.hands.tap(button(this.page, en.desk.outside));
    await this.choose(kind);
  }

  async add(kind: string): Promise<void> {
    await this.openRack();
    await this.choose(kind);
  }

  private async openRack(): Promise<void> {
    const rack = button(this.page, en.desk.addALayer);
    if (await rack.isVisible()) await this.hands.tap(rack);
    else if (await button(this.page, en.desk.chooseAFirstLayer).isVisible()) await this.hands.tap(button(this.page, en.desk.chooseAFirstLayer));
  }

  private async choose(kind: string): Promise<void> {
    await this.hands.tap(button(this.page, new RegExp(`^Add ${kind} `)));
    // Its channel is open, and its controls lie on the photo.
    await expect(button(this.page, en.bench.backToTheDesk)).toBeVisible();
    await settled(this.photo);
  }

  async fader(name: string | RegExp, dx: number): Promise<void> {
    await this.hands.drag(slider(this.page, name), dx, 0);
  }

  /** Opens the leaf of the mask and adds a part. */
  async part(kind: string, first = true): Promise<void> {
    if (first) await this.hands.tap(radio(this.page, /^Where$/));
    if (!first) await this.hands.tap(button(this.page, en.channel.addPart));
    await this.hands.tap(button(this.page, new RegExp(`^${kind}:`)));
  }

  /** Draws on the photo, from a share of it by pixels. */
  async draw(at: At, dx: number, dy: number): Promise<void> {
    await this.hands.drag(this.photo, dx, dy, at);
  }

  async pen(...places: [number, number, number][]): Promise<void> {
    this.extra++;
    await penStroke(this.page, this.photo, places);
  }

  /** A tap on the photo, as it says where the next layer is to land. */
  async touch(at: At): Promise<void> {
    await this.hands.tapAt(this.photo, at);
  }

  async tapIn(at: At): Promise<void> {
    await this.draw(at, 1, 0);
  }

  async close(): Promise<void> {
    await this.hands.tap(button(this.page, en.bench.backToTheDesk));
  }

  /** By the tape of the open channel. */
  async rename(from: string, to: string): Promise<void> {
    await this.hands.tap(button(this.page, `Rename ${from}`));
    const field = this.page.getByLabel(en.controls.nameOfTheLayer);
    await field.fill(to);
    await field.press('Enter');
  }

  said(job: string, aim: number): void {
    console.log(`gestures of ${job} from open photo to finished picture: ${this.hands.count() - this.begun + this.extra} (aim ${aim})`);
  }

  stack(): Promise<Stack> {
    return stackNowWhenKept(this.house, this.page);
  }
}

/** Imports a demo photo and opens it. @param of `demoWhole` for one as large as it is. */
export async function openOnBench(house: House, page: Page, name: string, wide = false, of = demo): Promise<Bench> {
  const hands = wide ? mouse(page) : await fingers(page);
  await importAndOpen(house, page, hands, name, of);
  return new Bench(house, page, hands, name);
}

/** Once nothing coarse is shown any more: the photos of stories are as large as they are. */
export const finished = (page: Page): Promise<void> =>
  expect
    .poll(() =>
      page
        .locator('canvas')
        .first()
        .evaluate((canvas) => Math.max((canvas as HTMLCanvasElement).width, (canvas as HTMLCanvasElement).height)),
    )
    .toBeGreaterThanOrEqual(700);

export const paramsOf = (layer: unknown): Record<string, number> => (layer as KindLayer).params as Record<string, number>;
