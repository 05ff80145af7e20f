declare module 'culori' {
  interface Rgb {
    readonly mode: 'rgb';
    readonly r: number;
    readonly g: number;
    readonly b: number;
  }
  export function differenceCiede2000(): (a: Rgb, b: Rgb) => number;
}
