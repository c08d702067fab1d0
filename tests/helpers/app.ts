import { randomBytes } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pino } from 'pino';
import { demoMade } from '../../scripts/lib/prepare.mjs';
import { touch } from '../../src/server/ground/cache';
import { actClock, actsOf } from '../../src/server/ground/clock';
import { type Actor, type App } from '../../src/server/ground/context';
import { newId } from '../../src/server/ground/db/ids';
import { openStore } from '../../src/server/ground/db/open';
import { Faults } from '../../src/server/ground/faults';
import { newKept } from '../../src/server/ground/kept';
import type { Mail } from '../../src/server/ground/ports';
import { readerHere } from '../../src/server/ground/reading/here';
import { sealWith } from '../../src/server/ground/seal';
import { staff } from '../../src/server/ground/tables/access';
import { affiliates } from '../../src/server/ground/tables/people';
import { programme } from '../../src/server/ground/tables/programme';
import { uploadsIn } from '../../src/server/ground/uploads';
import { registerListeners } from '../../src/server/listeners';
import { statusReaderHere } from '../../src/server/settle/bank/statusreader';
import { rehearserHere } from '../../src/server/setup/terms/rehearser';
import { emptyBytes, migrations } from './empty';
import { ticking } from './ticking';

export interface TestApp {
  app: App;
  owner: Actor;
  finance: Actor;
  mails: Mail[];
  setTime: (at: number) => void;
}

const merchant = {
  id: 1,
  name: 'Quernstone Clayworks',
  contact: 'hello@quernstone.example',
  base: 'EUR',
  zone: 'Europe/Lisbon',
  minimumPayout: 0,
  debtorName: 'Quernstone Clayworks',
  debtorIban: 'PT50000201231234567890154',
} as const;

/** Somebody of the staff, straight into the tables. */
function addStaff(app: App, role: 'owner' | 'finance'): Actor {
  const id = newId('staff');
  const email = `${role}@quernstone.example`;
  app.db
    .insert(staff)
    .values({ id, name: role, email, role, password: '', createdAt: app.clock.now() })
    .run();
  return { kind: 'staff', id };
}

/** An App on a database in memory, with a clock set by hand: for tests below HTTP. Nobody works on it yet. */
function appOn(bytes: Buffer): Omit<TestApp, 'owner' | 'finance'> {
  const store = openStore(bytes, migrations);
  let time = Date.parse('2027-01-04T09:00:00Z');
  const clock = actClock(
    ticking({
      now: () => time,
      real: Date.now,
      advance: (ms) => {
        time += ms;
      },
    }),
  );
  const mails: Mail[] = [];
  const log = pino({ level: 'silent' });
  const app: App = {
    ...store,
    ...actsOf(store, clock),
    clock,
    mail: {
      deliver: (mail) => {
        mails.push(mail);
        return Promise.resolve();
      },
    },
    bank: null,
    registry: null,
    rehearser: rehearserHere(store.sqlite),
    statusReader: statusReaderHere,
    reader: readerHere(() => app),
    seal: sealWith(randomBytes(32)),
    uploads: uploadsIn(join(tmpdir(), 'gravenel-uploads-of-tests')),
    log,
    faults: new Faults(log),
    address: 'http://127.0.0.1:1',
    shop: null,
    aliases: new Map(),
    kept: newKept(),
    who: () => {
      throw new TypeError('Nobody calls a server that is not listening');
    },
  };
  registerListeners(app);
  return {
    app,
    mails,
    setTime: (at) => {
      time = at;
    },
  };
}

/** The same on a programme of its own that has just been set up, with an owner and somebody for finance. */
export function testApp(): TestApp {
  const on = appOn(emptyBytes());
  on.app.db.insert(programme).values(merchant).run();
  touch(on.app, 'records');
  return { ...on, owner: addStaff(on.app, 'owner'), finance: addStaff(on.app, 'finance') };
}

/** The same on a copy of the demo, on its last day. */
export function demoApp(): App {
  const bytes = readFileSync(join(demoMade(), 'gravenel.sqlite'));
  // how the file is written and read: one with a log beside it cannot be kept in memory (SQLite’s file format, 1.3.3)
  bytes.fill(1, 18, 20);
  const { app, setTime } = appOn(bytes);
  setTime(app.db.select().from(programme).get()!.clockAt!);
  return app;
}

/** An active affiliate with payout details, straight into the tables. @returns its row */
export function addAffiliate(app: App, name: string) {
  const id = newId('affiliate');
  const handle = name.toLowerCase();
  app.db
    .insert(affiliates)
    .values({
      id,
      handle,
      name,
      email: `${handle}@potters.example`,
      emailKey: `${handle}@potters.example`,
      country: 'PT',
      sites: [],
      state: 'active',
      createdAt: app.clock.now(),
      joinedAt: app.clock.now(),
      payeeHolder: name,
      payeeIban: 'GB33BUKB20201555555555',
      payeeAddress: 'Kiln Lane 4',
    })
    .run();
  return app.db
    .select()
    .from(affiliates)
    .all()
    .find((a) => a.id === id)!;
}
