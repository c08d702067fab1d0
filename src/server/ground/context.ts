import { eq } from 'drizzle-orm';
import type { Logger } from 'pino';
import type { Terms } from '../setup/terms/store';
import type { Store } from './db/open';
import type { Faults } from './faults';
import { Problem } from './http/problem';
import type {
  BankPort,
  Clock,
  MailPort,
  ReaderPort,
  RegistryPort,
  RehearserPort,
  StatusReaderPort,
} from './ports';
import type { Seal } from './seal';
import { programme, type products } from './tables';

export type Programme = typeof programme.$inferSelect;

/** Who acts: a person of the staff, an affiliate, nobody known, or the clock. */
export interface Actor {
  kind: 'staff' | 'affiliate' | 'open' | 'clock';
  id: string;
  /** somebody of the staff who looks as this affiliate: what staff may not see stays hidden */
  looking?: boolean;
}
export const theClock: Actor = { kind: 'clock', id: 'clock' };

/** What is kept between requests and dropped when terms, links or settings change. */
export interface Kept {
  programme: Programme | null;
  /** rates and memberships, indexed */
  terms: Terms | null;
  /** products by code */
  products: Map<string, typeof products.$inferSelect> | null;
  /** signing secrets, opened, by key */
  secrets: Map<string, string[]>;
  /** grows whenever something of this is dropped: who keeps the same elsewhere reads it anew */
  stamp: number;
  /** told when something that tracking keeps in memory may have changed */
  onChange: (() => void)[];
  /** awaited when a programme has been set up, before anybody is told so */
  onSetUp: (() => Promise<void>)[];
}

/** Everything a service needs from outside. */
export interface App extends Store {
  clock: Clock;
  /** null: no mail service is set, so nobody is written to and messages wait */
  mail: MailPort | null;
  bank: BankPort | null;
  /** an outside registry, or the stand-in */
  registry: { port: RegistryPort; standin: boolean } | null;
  rehearser: RehearserPort;
  statusReader: StatusReaderPort;
  /** heavy reading, beside the serving thread */
  reader: ReaderPort;
  seal: Seal;
  log: Logger;
  faults: Faults;
  /** the address that people and shops reach this server at, without a trailing slash */
  address: string;
  /** made-up hosts of the demo, and the stand-in that plays each */
  aliases: Map<string, string>;
  /** the stand-in shop, if it runs */
  shop: string | null;
  kept: Kept;
}

/** The programme, or null before set-up. */
export function programmeOrNull(app: App): Programme | null {
  app.kept.programme ??= app.db.select().from(programme).where(eq(programme.id, 1)).get() ?? null;
  return app.kept.programme;
}

/** @throws Problem `conflict` before set-up */
export function theProgramme(app: App): Programme {
  const found = programmeOrNull(app);
  if (!found) throw new Problem('conflict', 'The programme is not set up yet');
  return found;
}

/** The bank connection: only a programme that tries Gravenel out has one, the stand-in. */
export function bankOf(app: App): BankPort | null {
  return programmeOrNull(app)?.demo ? app.bank : null;
}

/** The registry: one that is configured, or for a programme that tries Gravenel out, the stand-in. */
export function registryOf(app: App): RegistryPort | null {
  return app.registry && (!app.registry.standin || programmeOrNull(app)?.demo) ? app.registry.port : null;
}

/** Drops what is kept: call after any change of settings, products, affiliates or links; of terms, see `termsChanged`. */
export function changed(app: App): void {
  app.kept.stamp += 1;
  app.kept.programme = null;
  app.kept.products = null;
  app.kept.secrets.clear();
  for (const tell of app.kept.onChange) tell();
}
