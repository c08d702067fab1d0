import { parentPort, workerData } from 'node:worker_threads';
import { drizzle } from 'drizzle-orm/better-sqlite3';
import { pino } from 'pino';
import { drop } from '../ground/cache';
import { actClock } from '../ground/clock';
import type { App } from '../ground/context';
import { openReading } from '../ground/db/reading';
import { keepingStatements } from '../ground/db/statements';
import { stepBack } from '../ground/db/stepback';
import { Faults } from '../ground/faults';
import { problemFrom } from '../ground/http/problem';
import { newKept } from '../ground/kept';
import type { Asked, Said } from '../ground/reading/reader';
import { answer } from '../ground/reading/readings';
import { readings } from './readings';

const { file, address } = workerData as { file: string; address: string };

/** A port that a reading must not use: whatever it is asked for is a fault of ours. */
const none = <T extends object>(what: string): T =>
  new Proxy({} as T, {
    get: () => {
      throw new TypeError(`${what} is not there where only reading is done`);
    },
  });

const textOf = (thrown: unknown): string => (thrown instanceof Error && thrown.stack) || String(thrown);

let now = 0;
let real = 0;
let stamp = -1;

/** An App that can only read, on a connection of its own. */
function readingApp(): App {
  const sqlite = openReading(file);
  const log = pino({ level: 'silent' });
  const nothing = () => {
    throw new TypeError('Nothing is written where only reading is done');
  };
  return {
    db: drizzle(keepingStatements(sqlite)),
    sqlite,
    transaction: nothing,
    repeatable: nothing,
    close: () => {
      sqlite.close();
    },
    clock: actClock({ now: () => now, real: () => real, advance: () => undefined }),
    mail: null,
    bank: null,
    registry: null,
    shop: null,
    aliases: new Map(),
    log,
    faults: new Faults(log, (part, thrown) =>
      parentPort?.postMessage({ part, thrown: textOf(thrown) } satisfies Said),
    ),
    address,
    rehearser: none('the rehearser'),
    statusReader: none('the reader of status reports'),
    reader: none('the reader'),
    seal: none('the seal'),
    uploads: none('the store of uploads'),
    kept: newKept(),
    who: nothing,
  };
}

/** A question as it arrives: of which type its input is, only the reading of that name knows. */
interface Heard extends Omit<Asked, 'input'> {
  input: never;
}

const app = readingApp();

parentPort?.on('message', ({ number, name, input, written, tells, ...moment }: Heard) => {
  ({ now, real } = moment);
  if (moment.stamp !== stamp) {
    ({ stamp } = moment);
    drop(app, 'records');
    drop(app, 'terms');
  }
  let said: Said;
  try {
    if (tells) stepBack();
    const reading = readings.get(name);
    if (!reading) throw new TypeError(`There is no reading called ${name}`);
    const found = answer(
      app,
      reading,
      input,
      tells ? (done, total) => parentPort?.postMessage({ number, done, total } satisfies Said) : undefined,
    );
    said = { number, answer: written ? JSON.stringify(found ?? null) : found };
  } catch (thrown) {
    const { code, message, errors } = problemFrom(thrown);
    said = {
      number,
      refused: { code, message, errors },
      fault: code === 'internal' ? textOf(thrown) : null,
    };
  }
  parentPort?.postMessage(said);
});
