import type { TermsData } from '../core/terms/draft';
import type { RehearsalResult } from '../core/terms/rehearse';
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
  deliver: (mail: Mail) => Promise<void>;
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

/** Runs rehearsals off the serving thread. */
export interface RehearserPort {
  /** Begins one; `cancel` stops it and its result never comes. */
  run: (job: RehearsalJob, progress: (done: number, total: number) => void) => { result: Promise<RehearsalResult>; cancel: () => void };
}
