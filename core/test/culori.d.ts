declare module 'culori' {
  interface Rgb {
    readonly mode: string;
    readonly r: number;
    readonly g: number;
    readonly b: number;
  }
  interface Xyz {
    readonly mode: string;
    readonly x: number;
    readonly y: number;
    readonly z: number;
  }
  interface Out {
    l: number;
    a: number;
    b: number;
    c: number;
    /** Of greys there is none. */
    h?: number;
    x: number;
    y: number;
    z: number;
  }
  export function converter(mode: string): (colour: Rgb | Xyz) => Out;
  export function differenceCiede2000(): (a: Rgb, b: Rgb) => number;
}
