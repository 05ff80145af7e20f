import { createInterface } from 'node:readline';
import QR from 'qrcode';
import type { Running } from '../server';

/** What the terminal says to whoever wants to let a phone in: where it is, a code to scan, and by what it is known. Enter shows a new code. */
export class Invitation {
  constructor(
    private readonly running: Pick<Running, 'phone' | 'code'>,
    private readonly out: NodeJS.WritableStream,
    input: NodeJS.ReadStream,
  ) {
    // Without a terminal there is nobody to press a key.
    if (!input.isTTY) return;
    const keys = createInterface({ input });
    keys.on('line', () => {
      this.show().catch((error: unknown) => this.say(String(error)));
    });
    keys.on('SIGINT', () => process.kill(process.pid, 'SIGINT'));
  }

  async show(): Promise<void> {
    const { addresses, faults, fingerprints } = this.running.phone();
    faults.forEach((fault) => this.say(fault));
    if (addresses.length === 0) return;
    const { link } = await this.running.code();
    this.say(await QR.toString(link, { type: 'terminal', small: true }));
    this.say(`For a phone in the same network: scan this, or open ${link}`);
    if (addresses.length > 1) this.say(`also at ${addresses.slice(1).join(', ')}`);
    this.say('The code is good once, for five minutes; Enter makes another, and so does Phone in Bexlen.');
    if (fingerprints) this.say(`SHA-256 of the certificate  ${fingerprints.machine}\nSHA-256 of its authority    ${fingerprints.authority}`);
  }

  private say(text: string): void {
    this.out.write(`${text}\n`);
  }
}
