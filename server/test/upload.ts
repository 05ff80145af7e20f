/** Sends a whole file, and has it taken onto the shelf. What comes back is the last answer: of the step that was refused, or the photo. */
export async function upload(
  address: string,
  bytes: Buffer,
  name: string,
): Promise<{ status: number; body: Record<string, never> & { code?: string; message?: string; hint?: string } }> {
  const { where, answer: last } = await sent(address, bytes, name);
  const answer = last.ok ? await fetch(`${where}/take`, { method: 'POST' }) : last;
  return { status: answer.status, body: await answer.json() };
}

/** Sends a whole file, which is not taken onto the shelf. Returns the address of the upload, and the last answer. */
export async function sent(address: string, bytes: Buffer, name: string): Promise<{ where: string; answer: Response }> {
  const tus = { 'Tus-Resumable': '1.0.0' };
  const length = { 'Upload-Length': String(bytes.length), 'Upload-Metadata': `filename ${Buffer.from(name).toString('base64')}` };
  const begun = await fetch(`${address}/api/uploads`, { method: 'POST', headers: { ...tus, ...length } });
  const where = `${address}${begun.headers.get('location')}`;
  if (!begun.ok) return { where, answer: begun };
  const headers = { ...tus, 'Upload-Offset': '0', 'Content-Type': 'application/offset+octet-stream' };
  return { where, answer: await fetch(where, { method: 'PATCH', headers, body: new Uint8Array(bytes) }) };
}
