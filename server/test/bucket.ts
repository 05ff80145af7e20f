import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import fs from 'node:fs';
import http from 'node:http';
import type { AddressInfo } from 'node:net';
import os from 'node:os';
import path from 'node:path';

const KEY = 'S3RVER';

/** The store as a process of its own, so that nothing of it is shared with what is tested. */
const PROGRAM = `
const S3rver = require('s3rver');
const [directory] = process.argv.slice(1);
new S3rver({ port: 0, address: '127.0.0.1', silent: true, directory, configureBuckets: ['studio', 'other'].map((name) => ({ name })) })
  .run()
  .then(({ port }) => console.log('at ' + port));
`;

/** What a store does to who asks. */
type Mood = 'well' | 'busy' | 'slow' | 'cut' | 'read-only' | 'refuses' | 'skewed' | 'full';

/** An object store of its own, in a temporary folder, on 127.0.0.1, with whatever can go wrong on the way to it. */
export class Bucket {
  /** How it takes what is asked of it now. */
  mood: Mood = 'well';
  /** What was asked of it since it was last looked at. */
  asked: string[] = [];
  /** What was begun in parts and never finished, of which the store below does not tell: when, by its id. */
  readonly unfinished = new Map<string, Date>();

  private constructor(
    private readonly process: ChildProcess,
    readonly folder: string,
    private readonly server: http.Server,
  ) {}

  static async begin(): Promise<Bucket> {
    const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'bexlen-bucket-'));
    const child = spawn(process.execPath, ['-e', PROGRAM, folder], { stdio: ['ignore', 'pipe', 'inherit'] });
    const [line] = (await once(child.stdout as NodeJS.ReadableStream, 'data')) as [Buffer];
    const port = Number(/at (\d+)/.exec(String(line))?.[1]);
    const server = http.createServer((req, res) => bucket.pass(req, res, port)).listen(0, '127.0.0.1');
    const bucket = new Bucket(child, folder, server);
    await once(server, 'listening');
    return bucket;
  }

  get endpoint(): string {
    return `http://127.0.0.1:${(this.server.address() as AddressInfo).port}`;
  }

  address(name = 'studio', more = ''): string {
    return `s3://${name}?endpoint=${this.endpoint}${more}`;
  }

  /** Who may. */
  readonly env = { AWS_ACCESS_KEY_ID: KEY, AWS_SECRET_ACCESS_KEY: KEY };

  async end(): Promise<void> {
    this.server.closeAllConnections();
    this.server.close();
    const gone = once(this.process, 'exit');
    this.process.kill('SIGKILL');
    await gone;
    fs.rmSync(this.folder, { recursive: true });
  }

  private tellOfUnfinished(req: http.IncomingMessage, res: http.ServerResponse): void {
    req.resume();
    const all = [...this.unfinished].map(
      ([id, begun]) => `<Upload><Key>finished/${id}</Key><UploadId>${id}</UploadId><Initiated>${begun.toISOString()}</Initiated></Upload>`,
    );
    res.writeHead(200, { 'Content-Type': 'application/xml' });
    res.end(`<?xml version="1.0"?><ListMultipartUploadsResult><IsTruncated>false</IsTruncated>${all.join('')}</ListMultipartUploadsResult>`);
  }

  private pass(req: http.IncomingMessage, res: http.ServerResponse, port: number): void {
    const { mood } = this;
    const { method = '', url = '' } = req;
    const answer = (status: number, code: string): void => {
      req.resume();
      res.writeHead(status, { 'Content-Type': 'application/xml' });
      res.end(`<?xml version="1.0"?><Error><Code>${code}</Code><Message>No.</Message></Error>`);
    };
    const [, given] = /[?&]uploadId=([^&]+)/.exec(url) ?? [];
    if (method === 'GET' && /[?&]uploads(=|&|$)/.test(url)) return this.tellOfUnfinished(req, res);
    if (method === 'DELETE' && given !== undefined && this.unfinished.delete(given)) return void res.writeHead(204).end();
    this.asked.push(`${method} ${url}`);
    if (mood === 'busy') return answer(503, 'SlowDown');
    if (mood === 'refuses') return answer(403, 'InvalidAccessKeyId');
    if (mood === 'skewed') return answer(403, 'RequestTimeTooSkewed');
    if (mood === 'full') return answer(403, 'QuotaExceeded');
    if (mood === 'read-only' && method !== 'GET' && method !== 'HEAD') return answer(403, 'AccessDenied');
    const on = http.request({ port, host: '127.0.0.1', method, path: url, headers: req.headers }, (from) => {
      res.writeHead(from.statusCode ?? 500, from.headers);
      if (mood === 'cut' && method === 'GET' && Number(from.headers['content-length']) > 1000) {
        from.once('data', (part: Buffer) => {
          res.write(part.subarray(0, 500), () => res.destroy());
          from.destroy();
        });
        return;
      }
      if (mood !== 'slow') return void from.pipe(res);
      // A trickle of a few kilobytes a moment.
      from.on('data', (part: Buffer) => {
        from.pause();
        setTimeout(() => {
          res.write(part);
          from.resume();
        }, 20);
      });
      from.on('end', () => setTimeout(() => res.end(), 25));
    });
    on.on('error', () => res.destroy());
    res.on('close', () => on.destroy());
    req.pipe(on);
  }
}
