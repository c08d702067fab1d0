import { parentPort, workerData } from 'node:worker_threads';
import Database from 'better-sqlite3';

const { file, every } = workerData as { file: string; every: number };

const sqlite = new Database(file, { fileMustExist: true });
sqlite.pragma('wal_autocheckpoint = 0');

/** Pages in the log, 32 MB, above which the next look follows at once, so that little is left for a commit that brings in the last of them. */
const much = 8_000;
const soon = 10;

let seen: unknown = null;

/** Brings what was committed since the last time from the log into the data file; whoever reads or writes meanwhile goes on. @returns pages in the log */
function checkpoint(): number {
  const version = sqlite.pragma('data_version', { simple: true });
  if (version === seen) return 0;
  seen = version;
  const [done] = sqlite.pragma('wal_checkpoint(PASSIVE)') as { log: number }[];
  return done!.log;
}

function look(): void {
  setTimeout(look, checkpoint() > much ? soon : every);
}

look();
parentPort?.once('message', () => {
  sqlite.close();
  process.exit();
});
