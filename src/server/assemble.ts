import type { Server } from 'node:http';
import { dirname, join } from 'node:path';
import { pino } from 'pino';
import { bankClient } from '../standins/bank';
import { mailRoom } from '../standins/mailroom';
import { createRegistry } from '../standins/registry';
import { registryClient } from '../standins/registry-client';
import { createStandins } from '../standins/server';
import { openStandins } from '../standins/store';
import { createApp } from './app';
import type { App } from './context';
import { openStore } from './db/open';
import { startJobs } from './jobs/jobs';
import { smtpMail } from './messages/smtp';
import type { Clock } from './ports';
import { readSealKey, sealWith } from './seal';
import type { Settings } from './settings';
import { threadedStatusReader } from './payouts/statusreader';
import { threadedRehearser } from './terms/rehearser';
import { newClock, resumeClock } from './staff/clock';

export interface Running {
  app: App;
  http: Server;
  standins: Server | null;
  registry: Server | null;
  startJobs: () => () => Promise<void>;
  close: () => void;
}

/** The one place where ports get what stands behind them. */
export function assemble(settings: Settings, clock: Clock = newClock()): Running {
  const log = pino({ level: settings.logLevel }, pino.destination({ sync: false }));
  const store = openStore(join(settings.data, 'gravenel.sqlite'), settings.migrations);
  const standinDb = settings.standinPort === null ? null : openStandins(join(settings.data, 'standins.sqlite'));
  const shop = settings.standinPort === null ? null : `http://127.0.0.1:${settings.standinPort}`;
  // the demo's sales pages are on a made-up host that the shop stand-in plays
  const aliases = new Map(shop ? [[demoShopHost, shop]] : []);
  const app: App = {
    ...store, clock, log, shop, aliases, seal: sealWith(readSealKey(join(settings.data, 'seal.key'), settings.seal)), address: settings.address,
    mail: settings.smtp ? smtpMail(settings.smtp) : standinDb ? mailRoom(standinDb) : { deliver: () => Promise.reject(new Error('No mail service is configured (GRAVENEL_SMTP)')) },
    bank: shop ? bankClient(shop) : null, registry: settings.registry ? { port: registryClient(settings.registry), standin: false } : settings.standinPort === null ? null : { port: registryClient(`http://127.0.0.1:${settings.standinPort + 1}`), standin: true }, rehearser: threadedRehearser(settings.rehearser, join(settings.data, 'gravenel.sqlite')), statusReader: threadedStatusReader(join(dirname(settings.rehearser), 'status.cjs')), kept: { programme: null, terms: null, products: null, secrets: new Map(), onChange: [] },
  };
  resumeClock(app);
  const { http } = createApp(app, { web: settings.web, docs: settings.docs, aliases });
  return {
    app, http, standins: standinDb ? createStandins(standinDb, { gravenel: settings.address }) : null, registry: standinDb ? createRegistry(standinDb) : null, startJobs: () => startJobs(app),
    close: () => {
      store.close();
      standinDb?.close();
    },
  };
}

/** The host of the demo's sales pages. */
export const demoShopHost = 'shop.quernstone.example';
