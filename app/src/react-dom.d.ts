/** What is used of it; its own types come in a package that names every element of HTML. */
declare module 'react-dom' {
  /** Does something and draws what came of it before it returns. */
  export function flushSync<R>(act: () => R): R;
}
