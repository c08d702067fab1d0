import { parentPort, workerData } from 'node:worker_threads';
import Database from 'better-sqlite3';

const { file, every } = workerData as { file: string; every: number };

const sqlite = new Database(file, { fileMustExist: true });
sqlite.pragma('wal_autocheckpoint = 0');

let seen: unknown = null;

/** Brings what was committed since the last time from the log into the data file; whoever reads or writes meanwhile goes on. */
function checkpoint(): void {
  const version = sqlite.pragma('data_version', { simple: true });
  if (version === seen) return;
  seen = version;
  sqlite.pragma('wal_checkpoint(PASSIVE)');
}

setInterval(checkpoint, every);
parentPort?.once('message', () => {
  sqlite.close();
  process.exit();
});
