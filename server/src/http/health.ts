import { Router } from 'express';
import { Counter, Gauge, Histogram, Registry } from 'prom-client';
import type { ExportJob } from '@bexlen/api';
import type { Db } from '../store/db';
import { countsOf } from '../store/exports';
import { wrongMethod } from './faults';

/** How long the database may take to answer, to be called ready. */
const READY_MS = 2000;

/** What watches over the server asks for: whether it lives, whether it can work, and what its jobs come to, in Prometheus' text format. */
export class Health {
  private readonly registry = new Registry();
  private readonly ended: Counter<'state'>;
  private readonly seconds: Histogram;
  private readonly bytes: Counter;

  constructor(private readonly db: Db) {
    const registers = [this.registry];
    this.ended = new Counter({
      name: 'bexlen_jobs_ended_total',
      help: 'Files that were made, failed or were cancelled.',
      labelNames: ['state'],
      registers,
    });
    this.seconds = new Histogram({
      name: 'bexlen_job_seconds',
      help: 'How long files took that were made.',
      buckets: [0.25, 0.5, 1, 2, 5, 10, 30, 60, 300],
      registers,
    });
    this.bytes = new Counter({ name: 'bexlen_job_bytes_total', help: 'Bytes of files that were made.', registers });
    new Gauge({
      name: 'bexlen_jobs',
      help: 'Files by what has become of them.',
      labelNames: ['state'],
      registers,
      async collect() {
        for (const [state, count] of Object.entries(await countsOf(db))) this.set({ state }, count);
      },
    });
  }

  /** Something has become of a job. */
  note({ state, tookMs, bytes }: ExportJob): void {
    if (state === 'waiting' || state === 'working') return;
    this.ended.inc({ state });
    if (tookMs !== null) this.seconds.observe(tookMs / 1000);
    if (bytes !== null) this.bytes.inc(bytes);
  }

  routes(): Router {
    const router = Router();
    router
      .route('/healthz')
      .get((_req, res) => void res.type('text/plain').send('It lives.\n'))
      .all(wrongMethod('GET'));
    router
      .route('/readyz')
      .get(async (_req, res) => {
        const ready = await this.answers();
        res
          .status(ready ? 200 : 503)
          .type('text/plain')
          .send(ready ? 'It is ready.\n' : 'The database does not answer.\n');
      })
      .all(wrongMethod('GET'));
    router
      .route('/metrics')
      .get(async (_req, res) => void res.type(this.registry.contentType).send(await this.registry.metrics()))
      .all(wrongMethod('GET'));
    return router;
  }

  private async answers(): Promise<boolean> {
    const late = new Promise<boolean>((resolve) => setTimeout(() => resolve(false), READY_MS).unref());
    const asked = this.db.query('SELECT 1').then(
      () => true,
      () => false,
    );
    return Promise.race([asked, late]);
  }
}
