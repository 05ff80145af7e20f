/** Has the browser download what an address leads to. The server names the file, unless a name is given. */
export function save(url: string, name = ''): void {
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
}

/** Has the browser download something that was made in the page. */
export function saveBlob(name: string, blob: Blob): void {
  const url = URL.createObjectURL(blob);
  save(url, name);
  setTimeout(() => URL.revokeObjectURL(url), GONE_MS);
}
/** After this time the browser has begun to read the file. */
const GONE_MS = 1000;

export const saveText = (name: string, text: string): void => saveBlob(name, new Blob([text], { type: 'text/plain' }));
