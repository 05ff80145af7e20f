/** Sends a whole file, and has it taken onto the shelf. What comes back is the last answer: of the step that was refused, or the photo. */
export async function upload(
  address: string,
  bytes: Buffer,
  name: string,
): Promise<{ status: number; body: Record<string, never> & { code?: string; message?: string; hint?: string } }> {
  const tus = { 'Tus-Resumable': '1.0.0' };
  const length = { 'Upload-Length': String(bytes.length), 'Upload-Metadata': `filename ${Buffer.from(name).toString('base64')}` };
  let answer = await fetch(`${address}/api/uploads`, { method: 'POST', headers: { ...tus, ...length } });
  const where = `${address}${answer.headers.get('location')}`;
  if (answer.ok) {
    const headers = { ...tus, 'Upload-Offset': '0', 'Content-Type': 'application/offset+octet-stream' };
    answer = await fetch(where, { method: 'PATCH', headers, body: new Uint8Array(bytes) });
  }
  if (answer.ok) answer = await fetch(`${where}/take`, { method: 'POST' });
  return { status: answer.status, body: await answer.json() };
}
