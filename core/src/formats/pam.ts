import { BexlenError } from '../errors';
import { byteLength, type Layout } from '../pixels/picture';

/**
 * Portable arbitrary map (Netpbm "pam", P7), as pixels travel from the server to the bench: 8 or 16 bits, RGB or RGB_ALPHA. In the file
 * 16-bit samples are big-endian; in memory they are little-endian.
 */
export const PAM_TYPE = 'image/x-portable-arbitrarymap';
const MAX_HEADER = 256;
/** A comment, which others pass over. */
const WIDE = '# PRIMARIES display-p3\n';

export function writePam(layout: Layout, pixels: Uint8Array): Uint8Array {
  const { width, height, depth, channels, gamut = 'srgb', headroom } = layout;
  if (pixels.length !== byteLength(layout)) throw new Error(`expected ${byteLength(layout)} bytes of pixels, got ${pixels.length}`);
  const header = `P7\n${gamut === 'srgb' ? '' : WIDE}${headroom === undefined ? '' : `# HEADROOM ${headroom}\n`}WIDTH ${width}\nHEIGHT ${height}\nDEPTH ${channels}\nMAXVAL ${depth === 8 ? 255 : 65535}\nTUPLTYPE ${channels === 4 ? 'RGB_ALPHA' : 'RGB'}\nENDHDR\n`;
  const head = new TextEncoder().encode(header);
  const file = new Uint8Array(head.length + pixels.length);
  file.set(head);
  file.set(pixels, head.length);
  if (depth === 16) swap(file.subarray(head.length));
  return file;
}

/** Takes the file's bytes over: 16-bit samples are turned in place. */
export function readPam(file: Uint8Array): { layout: Layout; pixels: Uint8Array } {
  const text = new TextDecoder('latin1').decode(file.subarray(0, MAX_HEADER));
  const end = text.indexOf('ENDHDR\n');
  const field = (name: string): number => Number(new RegExp(`^${name} (\\d+)$`, 'm').exec(text)?.[1]);
  const [width, height, channels, most] = ['WIDTH', 'HEIGHT', 'DEPTH', 'MAXVAL'].map(field) as [number, number, number, number];
  const headroom = Number(/^# HEADROOM ([\d.]+)$/m.exec(text.slice(0, end))?.[1]);
  const pixels = file.subarray(end + 7);
  const layout = {
    width,
    height,
    channels,
    depth: most > 255 ? 16 : 8,
    ...(text.includes(WIDE) && { gamut: 'display-p3' }),
    ...(headroom > 0 && { headroom }),
  } as Layout;
  const whole =
    text.startsWith('P7\n') && end > 0 && [3, 4].includes(channels) && [255, 65535].includes(most) && pixels.length === byteLength(layout);
  if (!whole) throw new BexlenError('damaged-picture', 'The photo did not arrive whole.', 'Open it again.');
  if (layout.depth === 16) swap(pixels);
  return { layout, pixels };
}

function swap(bytes: Uint8Array): void {
  for (let i = 0; i + 1 < bytes.length; i += 2) {
    const high = bytes[i] as number;
    bytes[i] = bytes[i + 1] as number;
    bytes[i + 1] = high;
  }
}
