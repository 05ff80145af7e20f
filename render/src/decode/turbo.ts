import koffi, { type LibraryHandle } from 'koffi';

/** What the library is called on the systems that have it. */
const NAMES = ['libturbojpeg.so.0', '/opt/homebrew/lib/libturbojpeg.dylib', '/usr/local/lib/libturbojpeg.dylib'];

/** Numbers of its interface (turbojpeg.h of libjpeg-turbo 2): RGB bytes, exact transforms, and a warning is a failure. */
const RGB = 0;
const ACCURATE = 4096;
const STRICT = 8192;
const SAMPLINGS = { '4:4:4': 0, '4:2:2': 1, '4:2:0': 2, grey: 3 } as const;
const SPACES = { ycbcr: 1, grey: 2 } as const;
const readable = { samplings: Object.values<number>(SAMPLINGS), spaces: Object.values<number>(SPACES) };

/** How a JPEG is coded. */
export interface JpegWish {
  readonly quality: number;
  readonly sampling: '4:4:4' | '4:2:0';
}

/** JPEG coding straight into and out of memory at hand, on threads of the library's caller. */
export interface TurboJpeg {
  /**
   * Fills `room` with the rows of a JPEG, 8-bit RGB without padding, as other decoders with exact transforms and smooth colour do. False, with the room
   * in any state, where the file is damaged, of another size, or in colours or samplings that it is not for.
   */
  decode(jpeg: Uint8Array, width: number, height: number, room: Uint8Array): Promise<boolean>;
  /** Rows of opaque 8-bit RGB as a baseline JPEG with the tables of the standard. */
  encode(pixels: Uint8Array, width: number, wish: JpegWish): Promise<Buffer>;
}

/** libturbojpeg, where this machine has it; without it JPEGs take the way of all other formats. */
export const turboJpeg: TurboJpeg | null = find();

function find(): TurboJpeg | null {
  for (const name of NAMES)
    try {
      return bind(koffi.load(name));
    } catch {
      // Not on this machine by that name.
    }
  return null;
}

function bind(library: LibraryHandle): TurboJpeg {
  const decoder = library.func('void *tjInitDecompress()');
  const encoder = library.func('void *tjInitCompress()');
  const end = library.func('int tjDestroy(void *handle)');
  const release = library.func('void tjFree(void *bytes)');
  const fault = library.func('const char *tjGetErrorStr2(void *handle)');
  const header = library.func(
    'int tjDecompressHeader3(void *handle, const uint8_t *jpeg, unsigned long bytes, _Out_ int *width, _Out_ int *height, _Out_ int *sampling, _Out_ int *space)',
  );
  const decompress = threaded(
    library.func(
      'int tjDecompress2(void *handle, const uint8_t *jpeg, unsigned long bytes, uint8_t *pixels, int width, int pitch, int height, int format, int flags)',
    ),
  );
  const compress = threaded(
    library.func(
      'int tjCompress2(void *handle, const uint8_t *pixels, int width, int pitch, int height, int format, _Inout_ void **jpeg, _Inout_ unsigned long *bytes, int sampling, int quality, int flags)',
    ),
  );

  /** A handle serves one call at a time. */
  async function using<T>(handle: unknown, act: () => Promise<T>): Promise<T> {
    if (!handle) throw new Error('no memory for a JPEG coder');
    try {
      return await act();
    } finally {
      end(handle);
    }
  }

  return {
    decode(jpeg, width, height, room) {
      if (room.byteLength !== 3 * width * height) throw new Error(`expected room for ${3 * width * height} bytes, got ${room.byteLength}`);
      const handle: unknown = decoder();
      return using(handle, async () => {
        const [w, h, sampling, space] = [[0], [0], [0], [0]] as [[number], [number], [number], [number]];
        const known = header(handle, jpeg, jpeg.byteLength, w, h, sampling, space) === 0;
        if (!known || w[0] !== width || h[0] !== height) return false;
        if (!readable.samplings.includes(sampling[0]) || !readable.spaces.includes(space[0])) return false;
        return (await decompress(handle, jpeg, jpeg.byteLength, room, width, 0, height, RGB, ACCURATE | STRICT)) === 0;
      });
    },
    encode(pixels, width, { quality, sampling }) {
      const handle: unknown = encoder();
      return using(handle, async () => {
        const height = pixels.byteLength / (3 * width);
        const [jpeg, bytes] = [[null] as [unknown], [0] as [number]];
        const failed = await compress(handle, pixels, width, 0, height, RGB, jpeg, bytes, SAMPLINGS[sampling], quality, ACCURATE);
        try {
          if (failed) throw new Error(`libturbojpeg: ${String(fault(handle))}`);
          return Buffer.from(Buffer.from(koffi.view(jpeg[0], bytes[0])));
        } finally {
          release(jpeg[0]);
        }
      });
    },
  };
}

/** A C function called on a thread of the pool. What it is given must not be moved or let go until then: views of memory are not. */
function threaded(call: ReturnType<LibraryHandle['func']>): (...args: unknown[]) => Promise<number> {
  return (...args) =>
    new Promise((resolve, reject) => {
      call.async(...args, (error: Error | null, result: number) => (error ? reject(error) : resolve(result)));
    });
}
