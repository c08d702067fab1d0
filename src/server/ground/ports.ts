import type { TermsData } from '../../core/terms/draft';
import type { RehearsalResult } from '../../core/terms/rehearse';
import type { Id } from '../../core/text/id';

/** The machine's time and the programme's. They differ only where a demo clock was moved on. */
export interface Clock {
  /** the programme's moment, UTC milliseconds */
  now: () => number;
  /** the machine's moment: sessions, signatures, throttles */
  real: () => number;
  /** moves the programme's moment on, by milliseconds; the demo's clock only */
  advance: (milliseconds: number) => void;
}

export interface Mail {
  id: string;
  to: string;
  from: string;
  subject: string;
  body: string;
  at: number;
}

/** Takes messages: SMTP, or the mail room stand-in. Rejects when the address refuses. */
export interface MailPort {
  /** @throws MailRefused, which says whether trying again can help; anything else is tried again */
  deliver: (mail: Mail) => Promise<void>;
}

/** A message that was not taken: never to be, not now, or nobody could be asked. */
export class MailRefused extends Error {
  constructor(
    readonly when: 'never' | 'later' | 'unreachable',
    said: string,
  ) {
    super(said);
  }
}

/** Takes payment files and gives status reports back. Delivering the same file again must be harmless. */
export interface BankPort {
  deliver: (name: string, file: string) => Promise<void>;
  reports: () => Promise<{ name: string; content: string }[]>;
}

/** A replay of the past under other terms. */
export interface RehearsalJob {
  terms: TermsData;
  base: string;
  /** days of the programme's zone, both inclusive */
  from: string;
  to: string;
}

/** Reads the bank's status reports off the serving thread. */
export interface StatusReaderPort {
  /** @throws Problem `invalid` for what is no status report */
  read: (content: string) => Promise<StatusReport>;
}

/** Contents of files that were uploaded, each under the digest of what it is: the same content is kept once, and never changes. */
export interface UploadsPort {
  /** Keeps a content; when this returns it is on the disk. Keeping the same again is harmless. */
  keep: (digest: string, content: Buffer) => Promise<void>;
  /** Takes a content away, where there is one. */
  forget: (digest: string) => void;
  /** the file that holds a content, to be read by whoever serves it */
  pathOf: (digest: string) => string;
}

/** Runs rehearsals off the serving thread. */
export interface RehearserPort {
  /** Begins one; `cancel` stops it and its result never comes. */
  run: (
    job: RehearsalJob,
    progress: (done: number, total: number) => void,
  ) => { result: Promise<RehearsalResult>; cancel: () => void };
}

/** A partner as the registry lists it. */
export interface RegistryPartner {
  id: string;
  name: string;
  /** every site of it, as addresses */
  sites: string[];
  country: string;
  kinds: string[];
  audience: number;
  intro: string;
  /** its record there */
  sales: number;
  refunds: number;
  /** day since when it is listed */
  since: string;
  /** what the registry vouches for it by; empty = it does not */
  vouched: string;
  /** UTC milliseconds */
  changedAt: number;
}

export interface RegistryInvitation {
  /** ours: sending the same again is harmless */
  id: string;
  partner: string;
  programme: string;
  message: string;
  at: number;
  until: number;
}

/** An entry of the catalogue as it is submitted. */
export interface RegistryEntry {
  id: string;
  programme: string;
  category: string;
  headline: string;
  about: string;
  address: string;
  rate: string;
  at: number;
}

/** An offer of somebody else in the same category. */
export interface OtherEntry {
  programme: string;
  headline: string;
  /** parts per million of a sale */
  ratePpm: number;
  /** what 100 clicks earn, minor units of euro */
  epc: number;
}

/** Something that happened at the registry, numbered in order. */
export type RegistryEvent = { number: number; at: number } & (
  | { kind: 'invitation'; invitation: Id<'invite'>; state: 'opened' | 'declined' | 'expired' }
  | { kind: 'invitation'; invitation: string; state: 'accepted'; email: string; note: string }
  | { kind: 'entry'; entry: Id<'offer'>; state: 'question' | 'listed' | 'refused'; text: string }
);

/** What the registry will not take, however often it is tried: a partner that it does not list any more. */
export class RegistryRefusal extends Error {}

/** An outside list of possible partners and of offers. Every call may fail; each can be made again. */
export interface RegistryPort {
  /** A page of partners by id; `changedSince` leaves out those that have not changed. */
  partners: (
    after: string | null,
    changedSince: number | null,
  ) => Promise<{ rows: RegistryPartner[]; next: string | null }>;
  invite: (invitation: RegistryInvitation) => Promise<void>;
  submit: (entry: RegistryEntry) => Promise<void>;
  /** an answer to the reviewer; the same id again is taken once */
  answer: (entry: string, answer: { id: string; text: string; at: number }) => Promise<void>;
  others: (category: string) => Promise<OtherEntry[]>;
  /** What happened after an event, as of a moment. */
  events: (after: number, at: number) => Promise<RegistryEvent[]>;
}

/** An answer that is written as JSON already. */
export class JsonText<T> {
  declare readonly of: T;

  constructor(readonly text: string) {}
}

/** Who waits for an answer: a person, or an export that goes on piece by piece. */
export type Urgency = 'person' | 'export';

/** Long work that is under way in a thread of its own. */
export interface Work<T> {
  /** rejected where it fails; never settled once it is cancelled */
  result: Promise<T>;
  cancel: () => void;
}

/** Called as long work goes on: how much of how much is done. */
export type Progress = (done: number, total: number) => void;

/** What can be asked of the reader: I is what is handed over, A what comes back. */
export interface Question<I, A> {
  /** how the thread finds it: no two are called the same */
  name: string;
  /** never there: holds the types together */
  readonly types?: (input: I) => A;
}

/** Reads beside the serving thread. */
export interface ReaderPort {
  /** @throws Problem what the reading refuses, or `unavailable` where it takes too long or too many wait */
  ask: <I, A>(question: Question<I, A>, input: I, urgency?: Urgency) => Promise<A>;
  /** a reading that takes long, in a thread of its own that steps back behind all others */
  work: <I, A>(question: Question<I, A>, input: I, progress: Progress) => Work<A>;
  /** the same as the text that is sent: a long answer is written in the thread, and costs the serving one no more than a short one */
  say: <I, A>(question: Question<I, A>, input: I) => Promise<JsonText<A>>;
  close: () => void;
}

/** One payment of a status report. */
export interface StatusLine {
  endToEnd: string;
  status: string;
  reason: string | null;
  /** the original amount and currency as the bank repeats them; null where it does not */
  amount: string | null;
  currency: string | null;
}

/** What a bank's report says of a payment file. */
export interface StatusReport {
  /** which file it answers; null in a table, which does not say */
  messageId: string | null;
  lines: StatusLine[];
}
