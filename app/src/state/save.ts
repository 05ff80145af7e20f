/** Gives what lies under an address to the browser as a file; by the name that the server has for it, unless one is given. */
export function save(url: string, name = ''): void {
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
}

/** Gives something that was made in the page to the browser as a file. */
export function saveBlob(name: string, blob: Blob): void {
  const url = URL.createObjectURL(blob);
  save(url, name);
  setTimeout(() => URL.revokeObjectURL(url), GONE_MS);
}
/** By then the browser has begun to read it. */
const GONE_MS = 1000;

export const saveText = (name: string, text: string): void => saveBlob(name, new Blob([text], { type: 'text/plain' }));
