import type { Request } from 'express';
import type { Logger } from 'pino';
import type { AnyEndpoint } from '../../contract/endpoint';
import { type Role } from '../../core/access/lists';
import type { Store } from './db/open';
import type { Faults } from './faults';
import { type Kept } from './kept';
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

/** Who acts: a person of the staff, an affiliate, nobody known, or the clock. */
export interface Actor {
  kind: 'staff' | 'affiliate' | 'open' | 'clock';
  id: string;
  /** somebody of the staff who looks as this affiliate: what staff may not see stays hidden */
  looking?: boolean;
}
export const theClock: Actor = { kind: 'clock', id: 'clock' };

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
  /** who makes a call, and by which role; throws for somebody who may not */
  who: (access: AnyEndpoint['access'], req: Request) => { actor: Actor; role: Role | null };
}
