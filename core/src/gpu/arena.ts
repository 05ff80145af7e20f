interface Piece {
  readonly at: number;
  readonly size: number;
}

/** Places in a buffer of the graphics processor, which may get larger: the first gap that is large enough is taken. */
export class Arena {
  private readonly pieces: Piece[] = [];
  /** What it needed at most, so far. */
  most = 0;

  acquire(size: number): number {
    let at = 0;
    let i = 0;
    for (; i < this.pieces.length; i++) {
      const piece = this.pieces[i] as Piece;
      if (piece.at - at >= size) break;
      at = piece.at + piece.size;
    }
    this.pieces.splice(i, 0, { at, size });
    this.most = Math.max(this.most, at + size);
    return at;
  }

  release(at: number): void {
    const i = this.pieces.findIndex((piece) => piece.at === at);
    if (i < 0) throw new Error('what was not acquired cannot be released');
    this.pieces.splice(i, 1);
  }

  clear(): void {
    this.pieces.length = 0;
    this.most = 0;
  }
}
