import type { Frame } from './frame';

/** While a control is being moved, pixels are read so often, for what is measured on them. */
const READ_MS = 120;

/** The pixels of frames that pass: where they go, and which of them are read at all. */
export class Passing {
  private rooms: [Uint8ClampedArray<ArrayBuffer>, Uint8ClampedArray<ArrayBuffer>] = [new Uint8ClampedArray(), new Uint8ClampedArray()];
  /** The last frame whose pixels were read, when, and whether it was the last of all. */
  private read: { readonly image: ImageData; readonly at: number; last: boolean } | undefined;

  /** Room for an image that is shown until the next one comes; it is used again for the one after that. To make it anew for each frame would take longer than to fill it. */
  roomFor(bytes: number): Uint8ClampedArray<ArrayBuffer> {
    const [last, before] = this.rooms;
    const room = before.byteLength === bytes ? before : new Uint8ClampedArray(bytes);
    this.rooms = [room, last];
    return room;
  }

  /** The pixels that may stand for those of a next frame, which then need not be read: never for long, but for every other frame. */
  get instead(): ImageData | undefined {
    const { read } = this;
    return read && (read.last || performance.now() - read.at < READ_MS) ? read.image : undefined;
  }

  note({ seen, image }: Frame): void {
    if (!seen) this.read = { image, at: performance.now(), last: true };
    else if (this.read) this.read.last = false;
  }

  /** The picture is another one, or of another size. */
  forget(): void {
    this.read = undefined;
  }
}
