/** A browser with one page, as far as the walk needs it. Places are in points of the page. */
export interface Driver {
  readonly name: string;
  readonly goto: (url: string) => Promise<void>;
  /** Runs the body of a function in the page, and gives what it returns; it may be async. */
  readonly evaluate: <T>(body: string) => Promise<T>;
  /** Presses at the first place, moves through the others, lets go. */
  readonly drag: (...places: readonly (readonly [x: number, y: number])[]) => Promise<void>;
  readonly shot: (file: string) => Promise<void>;
  readonly close: () => Promise<void>;
}

export const rest = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));
export const PHONE = { width: 390, height: 844 };
