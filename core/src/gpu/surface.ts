import type { Gamut } from '../pixels/gamut';

/** Bytes of each row of a texture begin at multiples of so many (W3C WebGPU, 11.2). */
const ROW = 256;
/** Flags of WebGPU: of buffers (5.1.4), and of textures (6.1.3). */
const [FROM, TO] = [4, 8];
const [ONTO, DRAWN] = [2, 16];

/** Pixels from the begin of one row to that of the next, where rows of four bytes a pixel are copied to a texture. */
export const strideFor = (width: number): number => (Math.ceil((4 * width) / ROW) * ROW) / 4;

/** Where pictures come to be that are seen without being read: a canvas of no page, whose images are handed on one by one. */
export class Surface {
  /** The primaries that the canvas is set up for. */
  private gamut: Gamut | undefined;

  private constructor(
    private readonly device: GPUDevice,
    private readonly canvas: OffscreenCanvas,
    private readonly context: GPUCanvasContext,
  ) {}

  /** @returns nothing where the browser has no such canvas, or what comes out of it is not what was put in. */
  static async begin(device: GPUDevice): Promise<Surface | undefined> {
    if (typeof OffscreenCanvas === 'undefined') return undefined;
    try {
      const canvas = new OffscreenCanvas(1, 1);
      const context = canvas.getContext('webgpu') as GPUCanvasContext | null;
      const surface = context && new Surface(device, canvas, context);
      return surface && (await surface.proves()) ? surface : undefined;
    } catch {
      // Read pictures are as good, only later.
      return undefined;
    }
  }

  /** Copies pixels of four bytes that begin a buffer, in rows of `strideFor`, and hands on what is seen then. */
  take(buffer: GPUBuffer, width: number, height: number, colorSpace: Gamut): ImageBitmap {
    const { device, canvas, context } = this;
    if (canvas.width !== width || canvas.height !== height) Object.assign(canvas, { width, height });
    if (colorSpace !== this.gamut) context.configure({ device, format: 'rgba8unorm', usage: ONTO | DRAWN, alphaMode: 'opaque', colorSpace });
    this.gamut = colorSpace;
    const encoder = device.createCommandEncoder();
    encoder.copyBufferToTexture({ buffer, bytesPerRow: 4 * strideFor(width) }, { texture: context.getCurrentTexture() }, [width, height]);
    device.queue.submit([encoder.finish()]);
    return canvas.transferToImageBitmap();
  }

  /** Whether known pixels come out again. */
  private async proves(): Promise<boolean> {
    const [width, height] = [19, 5];
    const stride = strideFor(width);
    const known = Uint8Array.from({ length: 4 * stride * height }, (_, i) => (i % 4 === 3 ? 255 : (i * 37 + (i >> 7)) % 256));
    const buffer = this.device.createBuffer({ size: known.length, usage: FROM | TO });
    this.device.queue.writeBuffer(buffer, 0, known);
    const image = this.take(buffer, width, height, 'srgb');
    const seen = new OffscreenCanvas(width, height).getContext('2d', { colorSpace: 'srgb' });
    seen?.drawImage(image, 0, 0);
    const read = seen?.getImageData(0, 0, width, height).data;
    image.close();
    await this.device.queue.onSubmittedWorkDone();
    buffer.destroy();
    return read?.every((v, i) => v === known[4 * stride * Math.floor(i / (4 * width)) + (i % (4 * width))]) ?? false;
  }
}
