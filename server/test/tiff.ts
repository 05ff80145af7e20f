export type Tag = readonly [id: number, type: number, values: readonly number[] | string];
const SIZES: Record<number, number> = { 1: 1, 2: 1, 3: 2, 4: 4, 5: 8, 7: 1, 10: 8 };

/** Writes a little-endian TIFF (TIFF 6.0), what is referred to before what refers to it. */
export class TiffWriter {
  private readonly parts: Buffer[] = [];
  private length = 8;

  /** Adds bytes. @returns where they lie. */
  add(bytes: Buffer): number {
    const at = this.length;
    const odd = bytes.length % 2;
    this.parts.push(bytes, ...(odd ? [Buffer.alloc(1)] : []));
    this.length += bytes.length + odd;
    return at;
  }

  /** Adds a directory and what does not fit into it. @param next where the one lies that follows it. @returns where it lies. */
  directory(tags: readonly Tag[], next = 0): number {
    const out = Buffer.alloc(2 + 12 * tags.length + 4);
    out.writeUInt16LE(tags.length, 0);
    tags
      .toSorted((a, b) => a[0] - b[0])
      .forEach((tag, i) => {
        const [id, type] = tag;
        const bytes = bytesOf(tag);
        const entry = 2 + 12 * i;
        out.writeUInt16LE(id, entry);
        out.writeUInt16LE(type, entry + 2);
        out.writeUInt32LE(bytes.length / (SIZES[type] as number), entry + 4);
        if (bytes.length <= 4) bytes.copy(out, entry + 8);
        else out.writeUInt32LE(this.add(bytes), entry + 8);
      });
    out.writeUInt32LE(next, out.length - 4);
    return this.add(out);
  }

  /** The whole file. @param first where its first directory lies. */
  end(first: number): Buffer {
    const head = Buffer.from('II*\0\0\0\0\0', 'latin1');
    head.writeUInt32LE(first, 4);
    return Buffer.concat([head, ...this.parts]);
  }
}

function bytesOf([, type, values]: Tag): Buffer {
  if (typeof values === 'string') return Buffer.from(values, 'latin1');
  const out = Buffer.alloc(values.length * (type === 5 || type === 10 ? 4 : (SIZES[type] as number)));
  values.forEach((v, i) => {
    if (type === 1 || type === 7) out.writeUInt8(v, i);
    else if (type === 3) out.writeUInt16LE(v, 2 * i);
    else out.writeInt32LE(v, 4 * i);
  });
  return out;
}
