declare module 'libheif-js/libheif-wasm/libheif-bundle.js' {
  /** A new instance of libheif with memory of its own. */
  export default function newLibheif(): unknown;
}
