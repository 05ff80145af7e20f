/** For what never changes under its address. */
export const FOR_EVER = 'private, max-age=31536000, immutable';
