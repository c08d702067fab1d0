import type { Request } from 'express';
import type { Logger } from 'pino';
import type { AnyEndpoint } from '../../contract/endpoint';
import { type Role } from '../../core/access/lists';
import { isId, type Id } from '../../core/text/id';
import type { ActClock } from './clock';
import type { Store } from './db/open';
import type { Faults } from './faults';
import { type Kept } from './kept';
import type {
  BankPort,
  MailPort,
  ReaderPort,
  RegistryPort,
  RehearserPort,
  StatusReaderPort,
  UploadsPort,
} from './ports';
import type { Seal } from './seal';

/** Who acts: a person of the staff, an affiliate, nobody known, or the clock. */
export type Actor =
  | { kind: 'staff'; id: Id<'staff'> }
  /** looking: somebody of the staff looks as this affiliate; what staff may not see stays hidden */
  | { kind: 'affiliate'; id: Id<'affiliate'>; looking?: boolean }
  | { kind: 'open' | 'clock'; id: string };
export const theClock: Actor = { kind: 'clock', id: 'clock' };

/** Somebody who signs in. */
export type PersonId = Id<'staff' | 'affiliate'>;

export const actorOf = (person: PersonId): Actor =>
  isId(person, 'staff') ? { kind: 'staff', id: person } : { kind: 'affiliate', id: person };

/** The affiliate who acts, where a call is an affiliate’s own. @throws where anybody else does, which its access rules out */
export function asAffiliate(actor: Actor): Id<'affiliate'> {
  if (actor.kind !== 'affiliate') throw new Error(`${actor.kind} is no affiliate`);
  return actor.id;
}

/** The same of a call of the staff. */
export function asStaff(actor: Actor): Id<'staff'> {
  if (actor.kind !== 'staff') throw new Error(`${actor.kind} is none of the staff`);
  return actor.id;
}

/** Everything a service needs from outside. */
export interface App extends Store {
  clock: ActClock;
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
  uploads: UploadsPort;
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
