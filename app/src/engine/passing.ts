import type { Frame } from './frame';

/** While a control is being moved, pixels are read so often, for what is measured on them. */
const READ_MS = 120;

/** The pixels of frames that pass: where they go, and which of them are read at all. */
export class Passing {
  private rooms: [Uint8ClampedArray<ArrayBuffer>, Uint8ClampedArray<ArrayBuffer>] = [new Uint8ClampedArray(), new Uint8ClampedArray()];
  /** The pixels that were read last. */
  private image: ImageData | undefined;
  /** When a frame was last ordered to be read, and whether it was the last of all. */
  private readAt = -Infinity;
  private readLast = false;

  /** Room for an image that is shown until the next one comes; it is used again for the one after that. To make it anew for each frame would take longer than to fill it. */
  roomFor(bytes: number): Uint8ClampedArray<ArrayBuffer> {
    const [last, before] = this.rooms;
    const room = before.byteLength === bytes ? before : new Uint8ClampedArray(bytes);
    this.rooms = [room, last];
    return room;
  }

  /**
   * Told of each frame that is ordered: the next one may be ordered before this one is there.
   * @param moving a control is being moved.
   * @returns the pixels that stand for those of the frame, which then need not be read: never for long, but for every other frame.
   */
  instead(moving: boolean): ImageData | undefined {
    const now = performance.now();
    const spared = moving && (this.readLast || now - this.readAt < READ_MS) ? this.image : undefined;
    this.readLast = !spared;
    if (!spared) this.readAt = now;
    return spared;
  }

  note({ seen, image }: Frame): void {
    if (!seen) this.image = image;
  }

  /** The picture is another one, or of another size. */
  forget(): void {
    this.image = undefined;
  }
}
