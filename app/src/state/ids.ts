/** A new id for a layer, a part or a shape: 13 hexadecimal digits and hyphens, at random. */
export const newId = (): string => crypto.randomUUID().slice(0, 13);
