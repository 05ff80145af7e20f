import { createChannel, createSession } from 'better-sse';
import { Router, type RequestHandler } from 'express';
import type { ExportJob, NewsName, Told } from '@bexlen/api';
import type { Bulletin } from './bulletin';
import { wrongMethod } from './faults';

/** A line that is silent for longer may be cut on its way. Phones are woken by each word. */
const ALIVE_MS = 45_000;
/** Changes of the shelf that come close together are told once. */
const TOGETHER_MS = 100;

/** Tells every page that listens what has changed. */
export class News {
  private readonly channel = createChannel();
  private timer: NodeJS.Timeout | undefined;

  /**
   * @param page the program of the page that is served now, so that an older page can tell that it is one.
   * @param job what has become of a file, by its id.
   */
  constructor(
    private readonly page: () => string,
    private readonly bulletin: Bulletin,
    job: (id: string) => Promise<ExportJob>,
  ) {
    bulletin.hear('page', ({ name, what }) => this.channel.broadcast(what, name));
    bulletin.hear('export', ({ id }) => {
      // One that was removed meanwhile is told of as such.
      if (this.channel.sessionCount > 0)
        job(id).then(
          (what) => this.channel.broadcast(what, 'export'),
          () => undefined,
        );
    });
    // A page that is greeted looks at everything anew.
    bulletin.hear('missed', () => this.channel.broadcast({ page: page() }, 'hello'));
  }

  /** Tells every page, whichever process serves it. */
  tell<N extends NewsName>(name: N, what: Told<N>): void {
    this.bulletin.say({ of: 'page', name, what });
  }

  /** Looks at what is asked for, and tells of the shelf when it was changed. */
  readonly watch: RequestHandler = (req, res, next) => {
    if (req.method !== 'GET' && CHANGES.test(req.path))
      res.once('finish', () => {
        if (res.statusCode < 300) this.timer ??= setTimeout(() => this.shelf(), TOGETHER_MS).unref();
      });
    next();
  };

  routes(): Router {
    const router = Router();
    router
      .route('/events')
      .get(async (req, res) => {
        const session = await createSession(req, res, { keepAlive: ALIVE_MS });
        session.push({ page: this.page() }, 'hello');
        this.channel.register(session);
      })
      .all(wrongMethod('GET'));
    return router;
  }

  private shelf(): void {
    this.timer = undefined;
    this.tell('shelf', {});
  }
}

/** Requests that change what the shelf shows. */
const CHANGES = /^\/(photos(\/[^/]+)?|photos\/[^/]+\/versions|rolls.*|versions.*|uploads\/[^/]+\/take|looks\/[^/]+\/put)$/;
