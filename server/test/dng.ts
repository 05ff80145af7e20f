/** How the made-up camera sees white: what green lies over red and blue by. */
const NEUTRAL = [0.5, 1, 0.6] as const;
const BLACK = 512;
const WHITE = 16383;
/** XYZ of D65 to linear sRGB (IEC 61966-2-1). */
const TO_SRGB = [
  [3.2404542, -1.5371385, -0.4985314],
  [-0.969266, 1.8760108, 0.041556],
  [0.0556434, -0.2040259, 1.0572252],
] as const;

type Tag = readonly [id: number, type: number, values: readonly number[] | string];
const SIZES: Record<number, number> = { 1: 1, 2: 1, 3: 2, 4: 4, 5: 8, 10: 8 };

interface Preview {
  readonly jpeg: Buffer;
  readonly width: number;
  readonly height: number;
}

/**
 * A small digital negative (DNG 1.4) of a made-up camera: a Bayer mosaic of what a scene sends, in linear sRGB, where 1 fills green to `filled` of what the sensor holds.
 * @param scene the light at a pixel.
 * @param preview a JPEG of the scene, as cameras store one in their files.
 */
export function madeDng(
  width: number,
  height: number,
  scene: (x: number, y: number) => readonly [number, number, number],
  filled = 0.9,
  preview?: Preview,
): Buffer {
  const raw = Buffer.alloc(2 * width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const channel = y % 2 === 0 ? (x % 2 === 0 ? 0 : 1) : x % 2 === 0 ? 1 : 2;
      const light = (scene(x, y)[channel] as number) * NEUTRAL[channel] * filled;
      raw.writeUInt16LE(Math.min(WHITE, Math.max(0, Math.round(light * (WHITE - BLACK) + BLACK))), 2 * (y * width + x));
    }
  const ratio = (v: number): number[] => [Math.round(v * 10_000), 10_000];
  const tags = (dataAt: number): Tag[] => [
    [254, 4, [0]],
    [256, 4, [width]],
    [257, 4, [height]],
    [258, 3, [16]],
    [259, 3, [1]],
    [262, 3, [32803]],
    [271, 2, 'Made\0'],
    [272, 2, 'Made up\0'],
    [273, 4, [dataAt]],
    [274, 3, [1]],
    [277, 3, [1]],
    [278, 4, [height]],
    [279, 4, [raw.length]],
    [284, 3, [1]],
    [33421, 3, [2, 2]],
    [33422, 1, [0, 1, 1, 2]],
    [50706, 1, [1, 4, 0, 0]],
    [50707, 1, [1, 1, 0, 0]],
    [50708, 2, 'Made up camera\0'],
    [50713, 3, [1, 1]],
    [50714, 3, [BLACK]],
    [50717, 4, [WHITE]],
    [50721, 10, TO_SRGB.flatMap((row, i) => row.flatMap((v) => ratio(v * (NEUTRAL[i] as number))))],
    [50728, 5, NEUTRAL.flatMap(ratio)],
    [50778, 3, [21]],
  ];
  const directory = directoryOf(tags, 8, preview !== undefined);
  const head = Buffer.concat([Buffer.from('II*\0\x08\0\0\0', 'latin1'), directory]);
  // The raw pixels lie behind the first directory, the preview and its own behind them.
  return Buffer.concat([head, raw, ...(preview ? previewAt(preview, head.length + raw.length) : [])]);
}

/** A second directory (TIFF 6.0, section 22) with a preview, where it begins. */
function previewAt({ jpeg, width, height }: Preview, at: number): Buffer[] {
  const tags = (dataAt: number): Tag[] => [
    [254, 4, [1]],
    [256, 4, [width]],
    [257, 4, [height]],
    [258, 3, [8, 8, 8]],
    [259, 3, [6]],
    [262, 3, [6]],
    [277, 3, [3]],
    [513, 4, [dataAt]],
    [514, 4, [jpeg.length]],
  ];
  return [directoryOf(tags, at), jpeg];
}

function bytesOf([, type, values]: Tag): Buffer {
  if (typeof values === 'string') return Buffer.from(values, 'latin1');
  const out = Buffer.alloc(values.length * (type === 5 || type === 10 ? 4 : (SIZES[type] as number)));
  values.forEach((v, i) => {
    if (type === 1) out.writeUInt8(v, i);
    else if (type === 3) out.writeUInt16LE(v, 2 * i);
    else out.writeInt32LE(v, 4 * i);
  });
  return out;
}

/**
 * A directory of tags with what does not fit into them, `at` bytes from the file's begin.
 * @param tags told where the image's own bytes lie: right behind it.
 * @param another whether one more directory follows behind those bytes, whose number is that of tag 279.
 */
function directoryOf(tags: (dataAt: number) => readonly Tag[], at: number, another = false): Buffer {
  const count = tags(0).length;
  const extraAt = 2 + 12 * count + 4;
  const extra = tags(0).reduce((sum, tag) => sum + (bytesOf(tag).length > 4 ? bytesOf(tag).length + (bytesOf(tag).length % 2) : 0), 0);
  const out = Buffer.alloc(extraAt + extra);
  const dataAt = at + extraAt + extra;
  out.writeUInt16LE(count, 0);
  let next = extraAt;
  tags(dataAt).forEach((tag, i) => {
    const [id, type, values] = tag;
    const bytes = bytesOf(tag);
    const entry = 2 + 12 * i;
    out.writeUInt16LE(id, entry);
    out.writeUInt16LE(type, entry + 2);
    out.writeUInt32LE(bytes.length / (SIZES[type] as number), entry + 4);
    if (id === 279 && another) out.writeUInt32LE(dataAt + Number(values[0]), extraAt - 4);
    if (bytes.length <= 4) return bytes.copy(out, entry + 8);
    out.writeUInt32LE(at + next, entry + 8);
    bytes.copy(out, next);
    next += bytes.length + (bytes.length % 2);
  });
  return out;
}
