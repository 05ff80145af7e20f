declare module 'culori' {
  interface Out {
    l: number;
    a: number;
    b: number;
    x: number;
    y: number;
    z: number;
  }
  export function converter(mode: string): (colour: { mode: string; r: number; g: number; b: number }) => Out;
}
