import type { IncomingMessage, ServerResponse } from 'node:http';
import { looksAutomated } from '../../../core/attribution/automated';
import type { Barred } from '../../../core/attribution/lists';
import { networkOf, notOpened, type Asked, type NotOpened } from '../../../core/attribution/opened';
import { dayOf } from '../../../core/calendar/zone';
import { keptText } from '../../../core/text/kept';
import { type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { addressOf, type Trust } from '../../ground/http/origin';
import { plainPage } from '../../ground/http/plain';
import { readCookie } from '../../registers/access/session';
import { theProgramme } from '../../registers/programme/record';
import { handedOver, pageFor, targetsOf, type Page, type Target } from './targets';

interface PendingVisit {
  id: string;
  link: string;
  target: Target;
  at: number;
  day: string;
  visitor: string | null;
  landing: string;
  subIds: string | null;
  barred: Barred | null;
  /** why it is no click; a sale that names the visit is credited all the same */
  uncounted: NotOpened | null;
  address: string;
  answer: (stored: boolean) => void;
}

export const visitorCookie = 'gvv';
const cookieAge = 400 * 86_400;
const subIdNames = ['s1', 's2', 's3', 's4', 's5'];

const notFound = plainPage(
  'Link not found',
  '<p>It may have been copied incompletely. Please go back and try it once more, or ask whoever gave it to you.</p>',
  'This link leads nowhere',
);
const notOffered = plainPage(
  'Not on sale now',
  '<p>What this link is for is not on sale at the moment. Please look again later, or ask whoever gave it to you.</p>',
  'This is not on sale at the moment',
);
const unavailable = plainPage(
  'Please try again in a moment',
  '<p>The page could not be opened just now.</p>',
);

/**
 * Answers GET /go/{code}: stores the visit, then leads on. Visits of one turn of the event loop share one
 * transaction, and each is answered only after its commit.
 */
export class VisitDesk {
  readonly #app: App;
  readonly #trust: Trust;
  readonly #targets: ReturnType<typeof targetsOf>;
  readonly #digests = new Map<string, string>();
  #waiting: PendingVisit[] = [];
  #dayUntil = 0;
  #day = '';
  readonly #insert;
  readonly #count;

  /** @param trust which proxies may say for whom they ask */
  constructor(app: App, trust: Trust) {
    this.#app = app;
    this.#trust = trust;
    this.#targets = targetsOf(app);
    this.#insert = app.sqlite.prepare(
      'INSERT INTO visits (id, link, affiliate, product, at, visitor, landing, sub_ids, creative, coupon, barred, uncounted, address) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)',
    );
    this.#count = app.sqlite.prepare(
      'INSERT INTO click_days (day, product, clicks) VALUES (?, ?, ?) ON CONFLICT (day, product) DO UPDATE SET clicks = clicks + excluded.clicks',
    );
  }

  /** True if the request was for this desk and is being answered. */
  handle(req: IncomingMessage, res: ServerResponse): boolean {
    const url = req.url ?? '';
    if (!url.startsWith('/go/') || (req.method !== 'GET' && req.method !== 'HEAD')) return false;
    try {
      this.#lead(req, res, url);
    } catch (thrown) {
      this.#app.faults.note('redirect', thrown);
      answerPage(res, 503, unavailable, { 'retry-after': '2' });
    }
    return true;
  }

  #lead(req: IncomingMessage, res: ServerResponse, url: string): void {
    const queryAt = url.indexOf('?');
    const code = queryAt < 0 ? url.slice(4) : url.slice(4, queryAt);
    const target = this.#targets.find(code);
    if (!target) return answerPage(res, 404, notFound);
    const query = queryAt < 0 ? null : new URLSearchParams(url.slice(queryAt + 1));
    const chosen = query?.get('to') ?? null;
    if (chosen === null && !target.leads) return answerPage(res, 404, notOffered);
    const own =
      chosen === null
        ? pageFor(target, this.#app.clock.now(), req.headers['user-agent'])
        : this.#targets.listed(chosen);
    if (!own) return answerPage(res, 404, notFound);
    return this.#store(req, res, { code, target, own, query });
  }

  #store(
    req: IncomingMessage,
    res: ServerResponse,
    {
      code,
      target,
      own,
      query,
    }: {
      code: string;
      target: Target;
      own: Page;
      query: URLSearchParams | null;
    },
  ): void {
    const id = newId('visit');
    const at = this.#app.clock.now();
    const known = readCookie(req.headers.cookie, visitorCookie);
    const uncounted = notOpened(askedBy(req));
    // what nobody opened leaves no cookie: a picture on somebody's page would else be credited with what its readers buy
    const visitor =
      uncounted !== null ? null : known && /^vtr_[0-9a-z]{20}$/.test(known) ? known : newId('visitor');
    const subs = query ? subIdNames.map((n) => query.get(n)?.slice(0, 100) ?? null) : null;
    this.#waiting.push({
      id,
      link: code,
      target,
      at,
      day: this.#dayOf(at),
      visitor,
      uncounted,
      address: this.#digestOf(addressOf(req, this.#trust), this.#dayOf(at)),
      landing: own.landing,
      subIds: subs?.some((s) => s !== null) ? JSON.stringify(subs) : null,
      barred: looksAutomated(req.headers['user-agent']) ? 'automated' : target.barred,
      answer: (stored) => {
        if (!stored) return answerPage(res, 503, unavailable, { 'retry-after': '2' });
        res
          .writeHead(302, {
            location: handedOver(own, target, id, at),
            'cache-control': 'no-store',
            'referrer-policy': 'no-referrer',
            'content-length': '0',
            ...(visitor === null || known === visitor
              ? {}
              : {
                  'set-cookie': `${visitorCookie}=${visitor}; Path=/; Max-Age=${cookieAge}; HttpOnly; SameSite=Lax`,
                }),
          })
          .end();
        return undefined;
      },
    });
    if (this.#waiting.length === 1) setImmediate(() => this.#flush());
  }

  #flush(): void {
    const visits = this.#waiting;
    this.#waiting = [];
    let stored = true;
    try {
      this.#app.transaction(() => {
        const counts = new Map<string, { day: string; product: string; n: number }>();
        for (const v of visits) {
          this.#insert.run(
            v.id,
            v.link,
            v.target.affiliate,
            v.target.product,
            v.at,
            v.visitor,
            v.landing,
            v.subIds,
            v.target.creative,
            v.target.coupon,
            v.barred,
            v.uncounted && keptText(v.uncounted),
            v.address,
          );
          if (v.barred === 'automated' || v.uncounted !== null) continue;
          const key = v.day + v.target.product;
          const cell = counts.get(key);
          if (cell) cell.n += 1;
          else counts.set(key, { day: v.day, product: v.target.product, n: 1 });
        }
        for (const { day, product, n } of counts.values()) this.#count.run(day, product, n);
      });
    } catch (fault) {
      stored = false;
      this.#app.faults.note('visits', fault, { visits: visits.length });
    }
    for (const v of visits) this.#app.faults.guard('redirect', () => v.answer(stored));
  }

  /** A digest of the visitor's network with the day in it: addresses are told apart within a day, and not followed beyond it. */
  #digestOf(address: string, day: string): string {
    const key = `${day} ${address}`;
    let digest = this.#digests.get(key);
    if (digest === undefined) {
      if (this.#digests.size >= mostDigests) this.#digests.clear();
      digest = this.#app.seal.digest(`network ${day} ${networkOf(address)}`).slice(0, 20);
      this.#digests.set(key, digest);
    }
    return digest;
  }

  #dayOf(at: number): string {
    // the zone's midnight is looked up once an hour, not for each visit
    if (at < this.#dayUntil && at >= this.#dayUntil - 3_600_000) return this.#day;
    this.#dayUntil = (Math.floor(at / 3_600_000) + 1) * 3_600_000;
    this.#day = dayOf(at, theProgramme(this.#app).zone);
    return this.#day;
  }
}

function answerPage(
  res: ServerResponse,
  status: number,
  page: string,
  headers: Record<string, string> = {},
): void {
  if (res.headersSent) return void res.destroy();
  return void res
    .writeHead(status, {
      'content-type': 'text/html; charset=utf-8',
      'cache-control': 'no-store',
      ...headers,
    })
    .end(page);
}

/** Why a visit of a program is kept apart. */
const mostDigests = 10_000;

function askedBy({ method = 'GET', headers }: IncomingMessage): Asked {
  const one = (name: string) => {
    const value = headers[name];
    return Array.isArray(value) ? value[0] : value;
  };
  return {
    method,
    dest: one('sec-fetch-dest'),
    mode: one('sec-fetch-mode'),
    purpose: one('sec-purpose') ?? one('purpose') ?? one('x-purpose') ?? one('x-moz'),
  };
}
