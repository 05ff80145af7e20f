// Loaded before a program, so that its clock is an hour ahead of the others'.
const Real = Date;
const AHEAD_MS = 3_600_000;
globalThis.Date = class extends Real {
  constructor(...given) {
    if (given.length === 0) super(Real.now() + AHEAD_MS);
    else super(...given);
  }
  static now() {
    return Real.now() + AHEAD_MS;
  }
};
