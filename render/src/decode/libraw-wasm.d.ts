declare module 'libraw-wasm/dist/libraw.js' {
  /** An instance of LibRaw with memory of its own; the classes that it exports. */
  export default function newLibraw(settings: {
    readonly wasmBinary: Uint8Array;
    readonly print?: () => void;
    readonly printErr?: () => void;
  }): Promise<unknown>;
}
