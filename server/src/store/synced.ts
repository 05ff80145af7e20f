import fs from 'node:fs';
import { PGlite } from '@electric-sql/pglite';
import { NodeFS } from '@electric-sql/pglite/nodefs';

/** What of Emscripten's file layer is needed here: an open file, and the descriptor of the system's behind it; folders have none. */
interface Stream {
  readonly node: object;
  readonly nfd?: number;
}
interface NodeFiles {
  readonly realPath: (node: object) => string;
  readonly stream_ops: { fsync?: (stream: Stream) => number };
}

/**
 * Files of the database that are written through to the disk when PostgreSQL asks for it. Its layer of files knows no `fsync` by itself; with one, PostgreSQL keeps its own
 * promises: the log is on the disk before a transaction is answered, data before a checkpoint names it, everything before work goes on after a crash (PostgreSQL
 * documentation, "Reliability and the Write-Ahead Log").
 */
export class SyncedFiles extends NodeFS {
  override async init(...given: Parameters<NodeFS['init']>): ReturnType<NodeFS['init']> {
    const { emscriptenOpts } = await super.init(...given);
    const addSync = (module: unknown): void => {
      const files = (module as { NODEFS: NodeFiles }).NODEFS;
      files.stream_ops.fsync = (stream) => {
        const file = stream.nfd ?? fs.openSync(files.realPath(stream.node), 'r');
        try {
          fs.fsyncSync(file);
        } finally {
          if (stream.nfd === undefined) fs.closeSync(file);
        }
        return 0;
      };
    };
    return { emscriptenOpts: { ...emscriptenOpts, preRun: [...[emscriptenOpts.preRun ?? []].flat(), addSync] } };
  }
}

/** How PostgreSQL is started: as PGlite does, but with syncing, by the one way that its layer of files passes on. `-F` turns syncing off. */
export const SYNCED_START = [...PGlite.defaultStartParams.filter((param) => param !== '-F'), '-c', 'fsync=on', '-c', 'wal_sync_method=fsync'];
