import fs from 'node:fs/promises';
import sharp from 'sharp';
import { BexlenError, writePam, type Rect } from '@bexlen/core';
import { decodePart, type Source } from '@bexlen/render/decode/decode';
import { develop, inspect, type Inspected } from '@bexlen/render/decode/inspect';
import { storedPreview } from '@bexlen/render/decode/raw';
import { metadataOf, type Carried } from '@bexlen/render/decode/metadata';
import type { Policy } from '@bexlen/api';
import { readOra, type Ora } from '../ora/read';

/** What a decoder is asked for. Files are written where it is said. */
export type Order =
  | { readonly do: 'inspect'; readonly file: string; readonly name: string; readonly to: string; readonly developed?: string | undefined }
  | { readonly do: 'develop'; readonly file: string; readonly name: string; readonly format: string; readonly to: string }
  | { readonly do: 'preview'; readonly file: string; readonly name: string }
  | { readonly do: 'pixels'; readonly source: Source; readonly part?: Rect; readonly edge: number; readonly to: string }
  | { readonly do: 'metadata'; readonly file: string; readonly policy: Policy; readonly size: { readonly width: number; readonly height: number } }
  | { readonly do: 'layers'; readonly file: string; readonly into: string };

/** What comes of each. */
export interface Done {
  readonly inspect: Inspected;
  readonly develop: true;
  readonly preview: Uint8Array | undefined;
  readonly pixels: true;
  readonly metadata: Carried;
  readonly layers: Ora;
}

export type Answer =
  | { readonly done: Done[keyof Done] }
  | { readonly fault: Pick<BexlenError, 'code' | 'message' | 'hint'> }
  | { readonly error: string };

/** How a decoder ends that would need more memory than it may have. */
export const TOO_MUCH = 77;
const LOOK_MS = 10;
const PARENT_MS = 500;

async function carryOut(order: Order): Promise<Done[keyof Done]> {
  if (order.do === 'metadata') return metadataOf(order.file, order.policy, order.size);
  if (order.do === 'layers') return readOra(order.file, order.into);
  if (order.do === 'preview') return storedPreview(order.file, order.name);
  if (order.do === 'inspect') return inspect(order.file, order.name, order.to, order.developed);
  if (order.do === 'develop') {
    await develop(order.file, order.name, order.format, order.to);
    return true;
  }
  const { layout, pixels } = await decodePart(order.source, order.part, order.edge);
  await fs.writeFile(order.to, writePam(layout, pixels));
  return true;
}

async function answer(order: Order): Promise<Answer> {
  try {
    return { done: await carryOut(order) };
  } catch (error) {
    if (error instanceof BexlenError) return { fault: { code: error.code, message: error.message, hint: error.hint } };
    return { error: String((error as Error).message ?? error) };
  }
}

/**
 * What the process of a decoder does: one order after another, until one would need more memory than it may have. It ends when the process that began it is gone.
 * @param parent the id of that process.
 */
export function startDecoder(parent: number): void {
  const endAlone = (): void => {
    if (process.ppid !== parent || !process.connected) process.exit(0);
  };
  endAlone();
  setInterval(endAlone, PARENT_MS);
  let mostBytes = Infinity;
  // Nothing is kept from one stranger's file to the next.
  sharp.cache(false);
  setInterval(() => {
    if (process.memoryUsage.rss() > mostBytes) process.exit(TOO_MUCH);
  }, LOOK_MS);
  process.on('message', (order: Order & { readonly mostBytes: number }) => {
    mostBytes = order.mostBytes;
    answer(order).then(
      (told) => process.send?.(told),
      // `answer` tells of every fault; what is left ends this process, and its order with it.
      () => process.exit(1),
    );
  });
  process.on('disconnect', () => process.exit(0));
}
