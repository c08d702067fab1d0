import { eq } from 'drizzle-orm';
import { addDays } from '../core/calendar/zone';
import type { Actor, App } from '../server/ground/context';
import { applications } from '../server/ground/tables/applications';
import { affiliates } from '../server/ground/tables/people';
import { decide } from '../server/recruit/applications/decide';
import { join } from '../server/recruit/applications/join';
import { acceptTicked } from '../server/recruit/applications/ticked';
import { moveAffiliate } from '../server/recruit/roster/service';
import { addressOf } from '../standins/partners';
import { vouchedPartners } from './partners';
import { Seeded } from './random';

type Plan = (at: number, act: () => void) => void;
type At = (day: string, hour?: number) => number;

/** What came of an application: how it was decided, and how the affiliate turned out. */
type End = 'declined' | 'ended' | 'blocked' | 'paused' | 'waiting' | 'vouched';
interface Recruit {
  name: string;
  email: string;
  country: string;
  site: string;
  channels: string;
  address: string;
  note: string;
  day: string;
  product: string;
  end: End;
  reason: string;
}

const first = [
  'Anke',
  'Bram',
  'Celia',
  'Dario',
  'Elin',
  'Farid',
  'Greta',
  'Hugo',
  'Ilse',
  'Jonas',
  'Klara',
  'Livia',
  'Mirko',
  'Nadia',
  'Oskar',
  'Paula',
  'Quirin',
  'Rosa',
  'Sven',
  'Tilda',
  'Ugo',
  'Vera',
  'Willem',
  'Xenia',
  'Yara',
  'Zeno',
];
const nouns = [
  'Pots',
  'Clay',
  'Glaze',
  'Kiln',
  'Mugs',
  'Tiles',
  'Bowls',
  'Slip',
  'Wheel',
  'Studio',
  'Stoneware',
  'Terracotta',
];
const forms: [string, string][] = [
  ['Notes', 'blog'],
  ['Letter', 'newsletter'],
  ['Films', 'video'],
  ['Hour', 'podcast'],
  ['Classes', 'classes'],
  ['Finds', 'reviews'],
  ['Circle', 'community'],
];
const countries = ['PT', 'ES', 'FR', 'DE', 'GB', 'IE', 'NL', 'BE', 'IT', 'AT', 'SE', 'NO', 'DK', 'US', 'CA'];
const openings = [
  'I write for people who throw at home',
  'We teach twelve pupils a term',
  'My films show one thing made from start to end',
  'A small letter on the first of each month',
  'We test tools for a month before we say a word',
  'Our club shares one kiln and many opinions',
];
const middles = [
  'and readers ask me which wheel to begin with',
  'and most of them buy their first tools after the third lesson',
  'and I would show the tool roll in the hands of a beginner',
  'so a table-top wheel is what I am asked about weekly',
  'and glazes are what they run out of',
];
const ends = [
  'I would begin with a piece on the wheel in spring.',
  'The course would fit our winter month.',
  'I would link from the page on tools, which is read most.',
  'A reader offer in autumn would suit us.',
  'I have used your planner for a year.',
];
const copied = [
  'As a passionate content creator I help thousands of happy followers find the very best products at the very best prices and I know my audience would love your brand.',
  'We run a growing network of deal pages with high quality traffic and excellent conversion and would be delighted to present your shop to our loyal visitors every single day.',
];
const boasts = [
  (n: number) => `I reach ${n * 1000} subscribers every week and they buy what I show them.`,
  (n: number) =>
    `With ${(n / 100).toFixed(1)} million followers I am the largest voice in crafts north of the river.`,
  (n: number) =>
    `My ${n}k readers wait for a recommendation like yours, and waiting is not what they do best.`,
  (n: number) =>
    `${n},000 people open my letter before breakfast; give me your best rate and they will be yours.`,
  (n: number) => `Our pages have ${n}k visitors a month, all of them with a card in hand.`,
  (n: number) => `Put your kiln in my film and ${n},000 viewers will ask for it by name.`,
];
const subjects = [
  'slipware',
  'oval dishes',
  'ash glazes',
  'pinch pots',
  'teapot lids',
  'garden urns',
  'porcelain cups',
  'raku',
  'tile murals',
  'bread crocks',
  'egg cups',
  'salt cellars',
  'oil lamps',
  'bird baths',
  'candle holders',
  'jug handles',
  'lidded jars',
  'soup bowls',
  'clay whistles',
  'marbled plates',
];
const places = [
  'a barn',
  'a cellar',
  'two rooms over a bakery',
  'a former school',
  'a garden shed',
  'the back of a bookshop',
  'a railway arch',
  'a houseboat',
  'an old dairy',
  'a kitchen',
];
const replies = [
  'asked where the tools come from',
  'wrote back with pictures of their own',
  'wanted to know what a first wheel costs',
  'came to the open day',
  'sent a pot that had cracked',
  'asked for the recipe',
  'ordered through a link for the first time',
];

const copiedReason = 'The note stands word for word in other applications';

/** A crowd of applicants, drawn from a seed of its own. Each draw stands where it always stood, so that the same people come out. */
class Crowd {
  readonly random = new Seeded(77);
  readonly made: Recruit[] = [];

  put(end: End, told: Pick<Recruit, 'note' | 'day' | 'reason'>, more: Partial<Recruit> = {}): void {
    const { random } = this;
    const i = this.made.length;
    const [form, channels] = random.pick(forms);
    const name = `${first[i % first.length]!}’s ${nouns[(i * 5 + Math.floor(i / first.length)) % nouns.length]!} ${form}`;
    const slug = `${name.toLowerCase().replace(/[^a-z]+/g, '')}${i}`;
    this.made.push({
      name,
      email: `hello@${slug}.example`,
      country: random.pick(countries),
      site: `${slug}.example`,
      channels,
      address: `Clay Row ${i + 1}, ${random.pick(['Ford', 'Upper Mill', 'Old Bridge', 'Quarry Hill'])}`,
      note: told.note,
      day: told.day,
      product: random.chance(0.4) ? random.pick(['WHEEL-1', 'THROW-V', 'ROLL-1', 'GLAZE-M']) : '',
      end,
      reason: told.reason,
      ...more,
    });
  }

  day(from: string, days: number): string {
    return addDays(from, this.random.whole(0, days));
  }

  /** A note of its own. */
  own(): string {
    const { random } = this;
    return `From ${random.pick(places)} in ${random.pick(['spring', 'summer', 'autumn', 'winter'])} ${2012 + random.whole(0, 14)} on: ${random.pick(subjects)}, then ${random.pick(subjects)}. Of the last ${random.whole(40, 900)} who read it ${random.whole(5, 39)} ${random.pick(replies)}. ${random.pick([...openings, ...middles.map((m) => `It is a small thing ${m}`), ...ends.map((e) => e.replace(/\.$/, ''))])}.`;
  }

  /** A note that others sent as well, with one word changed. */
  copy(): string {
    const words = this.random.pick(copied).split(' ');
    words[this.random.whole(0, words.length - 1)] = this.random.pick(['truly', 'really', 'always']);
    return words.join(' ');
  }

  boast(): string {
    return this.random.pick(boasts)(this.random.whole(90, 990));
  }
}

const times = (n: number, act: (i: number) => void) => {
  for (let i = 0; i < n; i += 1) act(i);
};

/** Those who were declined: copied notes, boasts, and notes of their own that did not fit. */
function putDeclined(c: Crowd): void {
  const { random } = c;
  times(34, () =>
    c.put(
      'declined',
      { note: c.copy(), day: c.day('2026-02-01', 390), reason: copiedReason },
      { country: random.pick(['CY', 'US', 'GB']), channels: random.pick(['coupons', 'deals', 'reviews']) },
    ),
  );
  times(16, () =>
    c.put('declined', {
      note: c.boast(),
      day: c.day('2026-02-01', 390),
      reason: 'We could not see the audience that the note speaks of',
    }),
  );
  times(38, () =>
    c.put('declined', {
      note: c.own(),
      day: c.day('2026-02-01', 390),
      reason: random.pick([
        'Too far from what we sell',
        'The site has not been written on for a year',
        'We have enough partners of this kind in your country',
      ]),
    }),
  );
}

/** Those who were let in and did not stay, and those the registry vouches for. */
function putLetIn(c: Crowd): void {
  times(12, () =>
    c.put('ended', { note: c.own(), day: c.day('2026-02-01', 200), reason: 'Never sent a click' }),
  );
  times(6, (n) =>
    c.put('blocked', {
      note: n % 2 ? c.copy() : c.boast(),
      day: c.day('2026-03-01', 200),
      reason: 'Bought through its own links',
    }),
  );
  times(6, () =>
    c.put('paused', { note: c.own(), day: c.day('2026-04-01', 200), reason: 'Asked for a pause' }),
  );
  vouchedPartners(6).forEach((p, n) =>
    c.put(
      'vouched',
      { note: p.intro, day: c.day('2027-01-20', 40), reason: '' },
      {
        name: p.name,
        email: addressOf(p),
        country: p.country,
        site: new URL(p.sites[0]!).hostname,
        channels: p.kinds.join(', '),
        product: n % 2 ? 'WHEEL-1' : '',
      },
    ),
  );
}

function noteOfWaiting(c: Crowd, kind: number): string {
  if (kind === 1 || kind === 5) return c.copy();
  return kind === 3 ? c.boast() : c.own();
}

function putWaiting(c: Crowd): void {
  times(32, (n) => {
    const kind = n % 8;
    c.put(
      'waiting',
      { note: noteOfWaiting(c, kind), day: c.day('2027-02-24', 15), reason: '' },
      kind === 6 ? { channels: 'coupons' } : {},
    );
  });
}

/** 150 applications beside the scenario's own: copied notes, boasts, newcomers, some who turned out badly, one person under two names. */
function crowd(): Recruit[] {
  const c = new Crowd();
  putDeclined(c);
  putLetIn(c);
  putWaiting(c);
  const { made } = c;
  // one person under two names
  const [a, b] = [made.at(-1)!, made.at(-3)!];
  a.address = 'Brickfield Yard 7, Ford';
  b.address = '7 Brickfield Yard, Ford'.replace('7 Brickfield Yard', 'Brickfield Yard 7');
  b.note = a.note;
  return made;
}

/** Plans the applications of the crowd, what was decided, and how those who were let in turned out. */
export function planRecruits(app: App, plan: Plan, at: At, manager: Actor): void {
  crowd().forEach((r, n) => {
    const arrives = at(r.day, 10) + n * 61_000;
    plan(arrives, () => {
      join(app, {
        name: r.name,
        email: r.email,
        country: r.country,
        address: r.address,
        sites: [r.site],
        channels: r.channels,
        note: r.note,
        product: r.product,
        policy: true,
      });
    });
    if (r.end === 'waiting' || r.end === 'vouched') return;
    const rowOf = () => app.db.select().from(affiliates).where(eq(affiliates.email, r.email)).get()!;
    plan(arrives + 20 * 3_600_000, () => {
      const { id } = app.db
        .select({ id: applications.id })
        .from(applications)
        .where(eq(applications.affiliate, rowOf().id))
        .get()!;
      if (r.end === 'declined')
        decide(app, manager, { ids: [id], decision: 'decline', reason: r.reason, message: n % 2 === 0 });
      else
        decide(app, manager, {
          ids: [id],
          decision: 'approve',
          timing: 'after-hold',
          reason: '',
          message: true,
        });
      if (r.end !== 'declined') acceptTicked(app, rowOf().id);
    });
    if (r.end !== 'declined')
      plan(at(addDays(r.day, 120), 12) + n * 61_000, () => {
        moveAffiliate(app, manager, rowOf().id, {
          to: r.end as 'ended',
          reason: r.reason,
          version: rowOf().version,
        });
      });
  });
}
