import type { Server } from 'node:http';
import { dirname, join } from 'node:path';
import type { Express } from 'express';
import { pino } from 'pino';
import { bankClient } from '../standins/bank';
import { mailRoom } from '../standins/mailroom';
import { createRegistry } from '../standins/registry';
import { registryClient } from '../standins/registry-client';
import { createStandins } from '../standins/server';
import { openStandins as openStandinsFile, type StandinDb } from '../standins/store';
import { createApp } from './app';
import { touch } from './ground/cache';
import { actClock, actsOf, newClock, type ActClock } from './ground/clock';
import { type App } from './ground/context';
import { startCheckpoints } from './ground/db/checkpoints';
import { materialFolder } from './ground/db/material-copy';
import { openStore } from './ground/db/open';
import type { Settings } from './ground/environment';
import { Faults } from './ground/faults';
import { trustOf } from './ground/http/origin';
import { newKept } from './ground/kept';
import type { Clock } from './ground/ports';
import { threadedReader } from './ground/reading/reader';
import { readSealKey, sealWith } from './ground/seal';
import { uploadsIn } from './ground/uploads';
import { resumeClock } from './jobs/clock';
import { startJobs } from './jobs/jobs';
import { registerListeners } from './listeners';
import { whoIs } from './registers/access/who';
import { smtpMail } from './registers/outbox/smtp';
import { programmeOrNull } from './registers/programme/record';
import { threadedStatusReader } from './settle/bank/statusreader';
import { threadedRehearser } from './setup/terms/rehearser';
import { theTerms } from './setup/terms/store';
import { orderReadings } from './track/orders/readings';

export interface StandinServers {
  /** shop, mail room and bank */
  shop: Server;
  registry: Server;
}

export interface Running {
  app: App;
  http: Server;
  /** every route that is served, by method and path: what Express itself knows */
  routes: string[];
  /** true where the stand-ins are to run: asked for, or the programme tries Gravenel out and nobody said otherwise */
  standinsWanted: () => boolean;
  /** puts the stand-ins behind the ports, once; the servers still have to listen */
  openStandins: () => StandinServers;
  startJobs: () => () => Promise<void>;
  close: () => void;
}

const dataFile = (settings: Settings) => join(settings.data, 'gravenel.sqlite');

/** Everything a service needs, without stand-ins: no bank, no shop, and mail only by SMTP. */
function appOf(settings: Settings, clock: ActClock): App {
  const log = pino({ level: settings.logLevel }, pino.destination({ sync: false }));
  // the data first: a file that cannot be opened gets no new key beside it
  const store = openStore(dataFile(settings), settings.migrations);
  const seal = sealWith(readSealKey(join(settings.data, 'seal.key'), settings.seal));
  const faults = new Faults(log);
  const kept = newKept();
  const app: App = {
    ...store,
    ...actsOf(store, clock),
    clock,
    log,
    faults,
    shop: null,
    aliases: new Map(),
    seal,
    uploads: uploadsIn(join(settings.data, materialFolder)),
    address: settings.address,
    mail: settings.smtp ? smtpMail(settings.smtp) : null,
    bank: null,
    registry: settings.registry ? { port: registryClient(settings.registry), standin: false } : null,
    rehearser: threadedRehearser(settings.rehearser, dataFile(settings)),
    statusReader: threadedStatusReader(join(dirname(settings.rehearser), 'status.cjs')),
    reader: threadedReader(join(dirname(settings.rehearser), 'reader.cjs'), dataFile(settings), {
      address: settings.address,
      clock,
      kept,
      note: (thrown, place = 'reader') => faults.note(place, thrown),
    }),
    kept,
    who: (access, req) => whoIs(app, access, req),
  };
  registerListeners(app);
  return app;
}

/** Has what searching keeps in memory read beforehand, behind whatever people ask for. */
async function prepareSearch(app: App): Promise<void> {
  while (await app.reader.ask(orderReadings.prepare, {}, 'export'));
}

/** Everything that goes on by itself. @returns ends it */
function startAll(settings: Settings, app: App): () => Promise<void> {
  const stopJobs = startJobs(app);
  // who searches before it is done, or where it is cut off, has the rest read then
  prepareSearch(app).catch(() => undefined);
  const stopCheckpoints = startCheckpoints(
    join(dirname(settings.rehearser), 'checkpoint.cjs'),
    dataFile(settings),
    (thrown) => app.faults.note('checkpoints', thrown),
  );
  return async () => {
    await stopJobs();
    await stopCheckpoints();
  };
}

/** The one place where ports get what stands behind them. */
export function assemble(settings: Settings, clock: Clock = newClock()): Running {
  const trust = trustOf(settings.trustProxy);
  const app = appOf(settings, actClock(clock));
  resumeClock(app);
  // read before anybody waits for it
  if (programmeOrNull(app)) theTerms(app);
  const { http, express } = createApp(app, { web: settings.web, docs: settings.docs, trust });
  let standins: { db: StandinDb; servers: StandinServers } | null = null;
  const openOnes = (): StandinServers => {
    const shop = `http://127.0.0.1:${settings.standinPort}`;
    const registry = `http://127.0.0.1:${settings.standinPort + 1}`;
    const db = openStandinsFile(join(settings.data, 'standins.sqlite'));
    app.shop = shop;
    // the demo's sales pages are on a made-up host that the shop stand-in plays
    app.aliases.set(demoShopHost, shop);
    app.mail ??= mailRoom(db);
    app.bank = bankClient(shop);
    app.registry ??= { port: registryClient(registry), standin: true };
    touch(app, 'records');
    standins = {
      db,
      servers: { shop: createStandins(db, { gravenel: settings.address }), registry: createRegistry(db) },
    };
    return standins.servers;
  };
  return {
    app,
    http,
    routes: routesOf(express),
    startJobs: () => startAll(settings, app),
    standinsWanted: () =>
      settings.standins === 'on' || (settings.standins === 'demo' && (programmeOrNull(app)?.demo ?? false)),
    openStandins: () => standins?.servers ?? openOnes(),
    close: () => {
      app.reader.close();
      app.close();
      standins?.db.close();
    },
  };
}

function routesOf(server: Express): string[] {
  return server.router.stack.flatMap(({ route }) => {
    if (!route || typeof route.path !== 'string') return [];
    const methods = new Set(route.stack.map(({ method }) => method.toUpperCase()));
    return [...methods].map((method) => `${method} ${route.path}`);
  });
}

/** The host of the demo's sales pages. */
export const demoShopHost = 'shop.quernstone.example';
