import { and, gte, lt, sql } from 'drizzle-orm';
import type { TodayOut } from '../../../contract/lookback/today';
import { formatAge, formatAgo, formatDay } from '../../../core/calendar/format';
import { addDays, addZonedDays, dayOf, daysBetween } from '../../../core/calendar/zone';
import { addCounts, figuresOf, noCounts, type Counts } from '../../../core/figures/measures';
import type { WaitingKind } from '../../../core/figures/waiting';
import { formatMoney } from '../../../core/money/amount';
import { type App } from '../../ground/context';
import { saleDays } from '../../ground/tables/totals';
import { clickDays } from '../../ground/tables/visits';
import {
  clearedBefore,
  heldByDay,
  heldDue,
  negativeBalances,
  owedToAll,
  totalExposure,
} from '../../ledger/totals';
import { countApplications, countWaiting } from '../../recruit/applications/counts';
import { offersAsked } from '../../recruit/offers/catalogue';
import { countInvites } from '../../recruit/prospects/service';
import { countStuck } from '../../registers/outbox/queue';
import { countByState } from '../../registers/people/record';
import { theProgramme } from '../../registers/programme/record';
import { payoutTasks } from '../../settle/runs/read';
import { countOwing, dueAt, latest, policyInForce } from '../../setup/policy/versions';
import { countDoubled, lostKeys } from '../../track/connection/connection';
import { countUnconfirmed, unconfirmedDays, unconfirmedSum } from '../../track/orders/pictured';
import { equipSections } from './equip';
import { missingEssentials } from './missing';

// 14 weeks are shown; 30 days more, so that the first point has its whole window
const trendDays = 98 + 30;

/** Counts by day from a day (inclusive) to a day (exclusive); days without anything are not in it. */
export function countsByDay(app: App, from: string, to: string): Map<string, Counts> {
  const days = new Map<string, Counts>();
  const add = (day: string, part: Partial<Counts>) =>
    days.set(day, addCounts(days.get(day) ?? noCounts, { ...noCounts, ...part }));
  const clicks = app.db
    .select({ day: clickDays.day, clicks: sql<number>`sum(${clickDays.clicks})` })
    .from(clickDays)
    .where(and(gte(clickDays.day, from), lt(clickDays.day, to)))
    .groupBy(clickDays.day)
    .all();
  for (const { day, ...part } of clicks) add(day, part);
  for (const { day, ...part } of app.db
    .select()
    .from(saleDays)
    .where(and(gte(saleDays.day, from), lt(saleDays.day, to)))
    .all())
    add(day, part);
  return days;
}

function sumOf(days: Map<string, Counts>, from: string): Counts {
  return [...days]
    .filter(([day]) => day >= from)
    .reduce((sum, [, counts]) => addCounts(sum, counts), noCounts);
}

const hour = 3_600_000;
const day = 24 * hour;

type Waiting = TodayOut['waiting'][number];

/** What only somebody of the staff can mend: it has no amount, and waits. */
const trouble = (row: Omit<Waiting, 'amount' | 'mark'>): Waiting => ({
  ...row,
  amount: null,
  mark: 'waiting',
});

const messagesWait = (n: number) => `${n} ${n === 1 ? 'message waits' : 'messages wait'}`;

function mailTrouble(app: App): Waiting[] {
  const stuck = countStuck(app);
  const at = { kind: 'mail' as const, to: '/settings', act: 'look' };
  if (!app.mail)
    return [
      trouble({
        ...at,
        count: Math.max(1, stuck.waiting),
        text: 'Nobody is written to',
        more: `no mail service is set (GRAVENEL_SMTP); ${messagesWait(stuck.waiting)}`,
      }),
    ];
  if (!stuck.tried) return [];
  return [
    trouble({
      ...at,
      count: stuck.waiting,
      text: `${messagesWait(stuck.waiting)} to be sent`,
      more: `first tried ${formatAgo(stuck.since!, app.clock.real())}: ${stuck.fault ?? ''}`,
    }),
  ];
}

function keyTrouble(app: App): Waiting[] {
  const lost = lostKeys(app);
  if (!lost.length) return [];
  const text =
    lost.length === 1 ? 'A key of the shop cannot be read' : `${lost.length} keys of the shop cannot be read`;
  const more = `the seal was lost: ${lost.join(', ')}; its reports are turned away`;
  return [trouble({ kind: 'connection', count: lost.length, text, more, to: '/connection', act: 'mend' })];
}

function faultTrouble(app: App): Waiting[] {
  const faults = app.faults.since(day);
  if (!faults.length) return [];
  const named = faults.slice(0, 3).map((f) => `${f.place}, ${f.count} ×`);
  return [
    trouble({
      kind: 'faults',
      count: faults.reduce((n, f) => n + f.count, 0),
      text: 'Something failed here',
      more: `${named.join('; ')}; the log says what`,
      to: '/settings?part=history',
      act: 'look',
    }),
  ];
}

/** What keeps the server from doing its work, which only somebody of the staff can mend. Only the serving process knows it. */
export const troubles = (app: App): Waiting[] => [
  ...mailTrouble(app),
  ...keyTrouble(app),
  ...faultTrouble(app),
];

function waitingApplications(app: App): Waiting[] {
  const { count, oldest } = countWaiting(app);
  if (!count) return [];
  return [
    trouble({
      kind: 'applications',
      count,
      text: `${count} ${count === 1 ? 'application' : 'applications'}`,
      more: oldest === null ? '' : `oldest ${formatAge(oldest, app.clock.now())}`,
      to: '/applications',
      act: 'decide',
    }),
  ];
}

function waitingOffers(app: App): Waiting[] {
  const asking = offersAsked(app);
  const [first] = asking;
  if (!first) return [];
  return [
    trouble({
      kind: 'offers',
      count: asking.length,
      text: `${asking.length === 1 ? 'A question' : `${asking.length} questions`} of the catalogue’s reviewer`,
      more: first.headline,
      to: `/offers?id=${first.id}`,
      act: 'answer',
    }),
  ];
}

function waitingSales(app: App): Waiting[] {
  const { old, open } = countUnconfirmed(app);
  if (!old) return [];
  return [
    {
      kind: 'sales',
      count: old,
      text: `${old} ${old === 1 ? 'sale' : 'sales'} unconfirmed for ${unconfirmedDays} days`,
      more: `known by a picture alone; ${open} in all`,
      amount: { amount: unconfirmedSum(app), currency: theProgramme(app).base },
      to: '/sales?unconfirmed=old',
      act: 'look',
      mark: 'waiting',
    },
  ];
}

function reportedTwice(app: App): Waiting[] {
  const count = countDoubled(app);
  if (!count) return [];
  const more = `${count} ${count === 1 ? 'order' : 'orders'} reported both ways in 30 days, counted once`;
  return [
    trouble({ kind: 'connection', count, text: 'Connection', more, to: '/connection', act: 'see why' }),
  ];
}

function waitingClearing(app: App): Waiting[] {
  if (theProgramme(app).clearing !== 'person') return [];
  const due = heldDue(app);
  if (!due.n) return [];
  return [
    {
      kind: 'clearing',
      count: due.n,
      text: `${due.n} commissions to clear`,
      more: 'their clearing date has come',
      amount: { amount: due.sum, currency: theProgramme(app).base },
      to: '/ledger?due=1',
      act: 'clear',
      mark: 'waiting',
    },
  ];
}

const endWords = {
  remind: 'reminded',
  'hold-pay': 'not paid until they do',
  pause: 'paused until they do',
} as const;

/** So long after the end of a notice those who still have not accepted are told of on Today. */
const toldFor = 14 * day;

/** Whom the end of a notice has met, and who still has not accepted. */
function policyNotice(app: App): Waiting[] {
  const row = policyInForce(app);
  if (!row || row.closedAt === null || row.closedAt < app.clock.now() - toldFor || !row.closedFor) return [];
  const open = countOwing(app, row.number);
  if (!open) return [];
  return [
    trouble({
      kind: 'policy',
      count: open,
      text: `${open} ${open === 1 ? 'has' : 'have'} not accepted version ${row.number} of the policy`,
      more: `${endWords[row.content.atEnd]}; ${row.closedFor} when its notice ended ${formatAgo(row.closedAt, app.clock.now())}`,
      to: '/affiliates?only=unaccepted',
      act: 'look',
    }),
  ];
}

/** Notices that end within the days ahead, and how many would be met by it now. */
function noticesEnding(app: App, until: number): { at: number; text: string }[] {
  const row = latest(app);
  if (!row || row.closedAt !== null || dueAt(app, row) > until) return [];
  const open = countOwing(app, row.number);
  const met = open ? `; ${open} who have not accepted are ${endWords[row.content.atEnd]}` : '';
  return [{ at: dueAt(app, row), text: `the notice of version ${row.number} of the policy ends${met}` }];
}

/** What each place has to say, in the order it is shown. */
const sections: readonly [string, (app: App) => Waiting[]][] = [
  ['Applications', waitingApplications],
  ['Policy', policyNotice],
  ['Offer pages', waitingOffers],
  ...equipSections,
  ['Payouts', (app) => payoutTasks(app).map((task) => ({ kind: 'payouts' as const, ...task }))],
  ['Unconfirmed sales', waitingSales],
  ['Connection', reportedTwice],
  ['Clearing', waitingClearing],
];

const unreadSection = (name: string): Waiting =>
  trouble({
    kind: 'faults',
    count: 1,
    text: `${name}: could not be read`,
    more: 'everything else on this page is complete; the log has the error',
    to: '/settings?part=history',
    act: 'look',
  });

/** A section that fails says so in its place; the others are shown. */
const waitingList = (app: App, known: Waiting[]): Waiting[] => [
  ...known,
  ...sections.flatMap(
    ([name, read]) => app.faults.guard(`today: ${name}`, () => read(app)) ?? [unreadSection(name)],
  ),
];

function nextList(app: App): string[] {
  const { base, zone } = theProgramme(app);
  const today = dayOf(app.clock.now(), zone);
  const tomorrow = addDays(today, 1);
  const until = addZonedDays(app.clock.now(), 8, zone);
  const clearing = heldByDay(app, until, 5).map(({ n, sum, at }) => ({
    at,
    text: `${n} ${n === 1 ? 'commission clears' : 'commissions clear'}, ${formatMoney({ amount: sum, currency: base })}`,
  }));
  const when = (at: number) => {
    const onDay = dayOf(at, zone);
    if (onDay === today) return 'Later today';
    return onDay === tomorrow ? 'Tomorrow' : formatDay(at, zone);
  };
  return [...clearing, ...noticesEnding(app, until)]
    .sort((a, b) => a.at - b.at)
    .map(({ at, text }) => `${when(at)}: ${text}`);
}

/** Clicks, orders and money of the last days, and day by day. */
function readPerformance(app: App): NonNullable<TodayOut['performance']> {
  const end = addDays(dayOf(app.clock.now(), theProgramme(app).zone), 1);
  const from = addDays(end, -trendDays);
  const days = countsByDay(app, from, end);
  return {
    week: figuresOf(sumOf(days, addDays(end, -7))),
    month: figuresOf(sumOf(days, addDays(end, -30))),
    trend: daysBetween(from, end).map((day) => ({ day, ...figuresOf(days.get(day) ?? noCounts) })),
  };
}

function readOwed(app: App): NonNullable<TodayOut['owed']> {
  const { base } = theProgramme(app);
  const money = (amount: number) => ({ amount, currency: base });
  const owed = owedToAll(app);
  const negative = negativeBalances(app);
  return {
    held: money(owed.held),
    cleared: money(owed.cleared - negative),
    past75: money(clearedBefore(app, 75)),
    inRun: money(owed.inRun),
    negative: money(negative),
    total: money(owed.held + owed.cleared + owed.inRun),
    exposure: money(totalExposure(app)),
  };
}

const readPeople = (app: App): NonNullable<TodayOut['people']> => ({
  affiliates: countByState(app),
  applications: countApplications(app),
  invitations: countInvites(app),
});

/** A part that fails is null: the others are shown. @param known what `troubles` says */
export function readToday(app: App, known: TodayOut['waiting']): TodayOut {
  const part = <T>(name: string, read: (app: App) => T): T | null =>
    app.faults.guard(`today: ${name}`, () => read(app));
  return {
    now: app.clock.now(),
    joinAddress: `${app.address}/join`,
    waiting: waitingList(app, known),
    performance: part('performance', readPerformance),
    owed: part('owed', readOwed),
    people: part('people', readPeople),
    next: part('next', nextList),
    missing: part('set-up', missingEssentials) ?? [],
  };
}

/** What waits for a person, by place: the counts beside the rail. */
export function readCounts(app: App, known: TodayOut['waiting']): Partial<Record<WaitingKind, number>> {
  const counts: Partial<Record<WaitingKind, number>> = {};
  for (const { kind, count } of waitingList(app, known))
    counts[kind] = (counts[kind] ?? 0) + (kind === 'payouts' ? 1 : count);
  return counts;
}
