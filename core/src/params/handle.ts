/**
 * A control drawn on the photo, by the params that it moves. Places are from the photo's middle, they and lengths are shares of its long edge, angles degrees clockwise.
 * `onPicture`: places and radii are shares of the finished picture's half sides instead.
 */
export type Handle =
  /** An oval with an outer border and an inner one, which is a share of it. */
  | {
      readonly shape: 'oval';
      readonly x: string;
      readonly y: string;
      readonly width: string;
      readonly height: string;
      readonly angle: string;
      readonly inner: string;
      readonly onPicture?: true;
    }
  /** A strip: half its whole width, and how far it fades on either side. */
  | {
      readonly shape: 'band';
      readonly x: string;
      readonly y: string;
      readonly half: string;
      readonly before: string;
      readonly after: string;
      readonly angle: string;
    }
  /** From where it begins to where it ends. */
  | { readonly shape: 'ramp'; readonly x: string; readonly y: string; readonly length: string; readonly angle: string }
  /** An oval that is whole within, and where it ends on each of its four sides, in shares of its radii. `ends` says whether the four move together. */
  | {
      readonly shape: 'clearing';
      readonly x: string;
      readonly y: string;
      readonly width: string;
      readonly height: string;
      readonly angle: string;
      readonly right: string;
      readonly left: string;
      readonly below: string;
      readonly above: string;
      readonly ends: string;
    }
  /** A picture with its four corners. */
  | { readonly shape: 'sheet' }
  /** A place alone. */
  | { readonly shape: 'point'; readonly x: string; readonly y: string }
  /** A tapped place and how far it reaches. */
  | { readonly shape: 'spot'; readonly samples: string; readonly reach: string };
