import { eq } from 'drizzle-orm';
import type { SetChange } from '../contract/setup/rate-book';
import type { Id } from '../core/text/id';
import type { Actor, App } from '../server/ground/context';
import { products } from '../server/ground/tables/catalogue';
import { affiliates } from '../server/ground/tables/people';
import { saveDraft } from '../server/setup/terms/draft-save';
import { openDraft } from '../server/setup/terms/draft-store';
import { dateDraft, draftRate, draftSwitch } from '../server/setup/terms/drafts';
import { addMembers } from '../server/setup/terms/members';
import { createSet } from '../server/setup/terms/sets';
import { orderTags } from '../server/setup/terms/tag-order';

/** Terms of Quernstone Clayworks: cards, groups and tags, and how rates were given to them over the months. */
export const sets = [
  { of: 'card', name: 'Makers', about: 'For people who make pots and write about it', openJoin: true },
  {
    of: 'card',
    name: 'Media',
    about: 'For podcasts, newsletters and magazines',
    openJoin: true,
    openChange: true,
  },
  { of: 'group', name: 'Studio circle', about: 'Studios and teachers we have worked with for a while' },
  { of: 'group', name: 'Classrooms', about: 'Schools and clubs that buy for many' },
  { of: 'group', name: 'Market stalls', about: 'Sellers at fairs; rests over winter' },
  { of: 'tag', name: 'launch help', about: 'Helped with a launch', colour: 'copper' },
  { of: 'tag', name: 'features the wheel', about: 'Shows the wheel on the front page', colour: 'verdigris' },
  { of: 'tag', name: 'early', about: 'With us from the first month', colour: 'slate' },
  { of: 'tag', name: 'video', about: 'Makes films', colour: '' },
  { of: 'tag', name: 'coupons', about: 'Coupon pages', colour: 'ochre' },
  { of: 'tag', name: 'ask before paying', about: 'Refunds to look at', colour: 'madder' },
] as const;
type SetName = (typeof sets)[number]['name'];

/** Who was put where, by name, and on which day. */
const placed: [day: string, set: SetName, names: string[]][] = [
  ['2026-11-28', 'Makers', ['Kiln Diaries', 'Bisque & Bramble', 'Potsherd & Co', 'Mudlark Evenings']],
  ['2026-11-28', 'Media', ['Loam Letters', 'The Crackle Letter', 'Wheelhouse Talks']],
  ['2026-12-01', 'early', ['Loam Letters', 'Kiln Diaries', 'The Crackle Letter']],
  ['2026-12-02', 'Studio circle', ['Ochre Lane Teachers', 'Kiln Diaries']],
  ['2026-12-05', 'Market stalls', ['Potsherd & Co']],
  ['2026-12-15', 'Classrooms', ['Clay for Kids', 'Studio Seventeen']],
  ['2026-12-20', 'video', ['Mudlark Evenings', 'Terracotta Tuesday']],
  ['2026-12-20', 'coupons', ['Save at the Wheel', 'Bright Mug Deals']],
  ['2027-01-10', 'launch help', ['Wheelhouse Talks', 'Terracotta Tuesday']],
  ['2027-01-16', 'features the wheel', ['Mudlark Evenings']],
  ['2027-01-20', 'Makers', ['Handle With Care', 'Marta Quill', 'Slip Trail']],
  ['2027-02-20', 'ask before paying', ['Bright Mug Deals', 'Quick Clay Codes']],
];

type Target = { set: SetName } | { affiliate: string } | null;
interface Given {
  day: string;
  to: Target;
  on: string | null;
  pays: SetChange['reward'];
  more?: Partial<SetChange>;
  starts?: string;
}
const percent = (value: string): SetChange['reward'] => ({ kind: 'percent', value });

/** Rates as they were set, in order. The one of 20 January was typed wrong: 1.5 for 15, and mended a month later. */
const given: Given[] = [
  { day: '2026-11-20', to: { set: 'Makers' }, on: null, pays: percent('12') },
  { day: '2026-11-20', to: { set: 'Media' }, on: null, pays: percent('10') },
  {
    day: '2026-11-20',
    to: { set: 'Media' },
    on: 'ROLL-1',
    pays: { kind: 'flat-order', value: '8.00', also: { USD: '8.75' } },
  },
  { day: '2026-11-25', to: { set: 'Studio circle' }, on: null, pays: percent('12.5') },
  { day: '2026-11-25', to: { set: 'Studio circle' }, on: 'WHEEL-1', pays: percent('15') },
  { day: '2026-11-25', to: { set: 'Classrooms' }, on: 'APRON-1', pays: percent('18') },
  { day: '2026-11-20', to: { set: 'Makers' }, on: 'THROW-V', pays: percent('32') },
  { day: '2026-11-20', to: { set: 'Media' }, on: 'THROW-V', pays: percent('30') },
  { day: '2026-11-25', to: { set: 'Studio circle' }, on: 'THROW-V', pays: percent('35') },
  { day: '2026-11-26', to: { set: 'Makers' }, on: 'step:wheel-roll', pays: percent('20') },
  {
    day: '2026-11-26',
    to: { set: 'Studio circle' },
    on: 'GLAZE-M',
    pays: percent('12'),
    more: { event: 'renewal', payments: { first: 2, last: 12, after: 'next' } },
  },
  { day: '2026-11-25', to: { set: 'Market stalls' }, on: null, pays: percent('14') },
  {
    day: '2026-11-26',
    to: null,
    on: null,
    pays: percent('15'),
    more: { mode: 'up-to', from: '2026-12-05T00:00', until: '2026-12-13T00:00', label: 'Winter fair' },
  },
  { day: '2026-12-10', to: { set: 'launch help' }, on: 'THROW-V', pays: percent('40') },
  { day: '2026-12-10', to: { set: 'features the wheel' }, on: 'WHEEL-1', pays: percent('16') },
  {
    day: '2027-01-08',
    to: { affiliate: 'Returns on Earth' },
    on: null,
    pays: {
      kind: 'bands',
      bands: [
        { from: '60.00', kind: 'percent', value: '9' },
        { from: '150.00', kind: 'percent', value: '14' },
      ],
    },
    more: { label: 'Large baskets', cap: '60.00' },
    starts: '2027-01-25T00:00',
  },
  {
    day: '2026-12-14',
    to: { set: 'Classrooms' },
    on: 'ROLL-1',
    pays: percent('1.5'),
    more: { label: 'Tool rolls for schools' },
  },
  {
    day: '2027-02-08',
    to: { affiliate: 'Feldspar Weekly' },
    on: 'KILN-S',
    pays: { kind: 'flat-order', value: '0.06' },
    more: { event: 'click', label: 'Readers for the kiln' },
  },
  {
    day: '2027-02-18',
    to: { set: 'Classrooms' },
    on: 'ROLL-1',
    pays: percent('15'),
    more: { label: 'Tool rolls for schools' },
  },
  {
    day: '2027-03-04',
    to: null,
    on: 'THROW-V',
    pays: percent('40'),
    more: { mode: 'up-to', from: '2027-03-20T00:00', until: '2027-03-27T00:00', label: 'Spring week' },
  },
  {
    day: '2027-03-08',
    to: { set: 'Studio circle' },
    on: 'APRON-1',
    pays: percent('14'),
    starts: '2027-04-01T09:00',
  },
];

interface Desk {
  manager: Actor;
  plan: (at: number, act: () => void) => void;
  at: (day: string, hour?: number) => number;
}

type Ids = ReadonlyMap<string, Id<'set'>>;

const named = (app: App, name: string) =>
  app.db
    .select({ handle: affiliates.handle, id: affiliates.id })
    .from(affiliates)
    .where(eq(affiliates.name, name))
    .get()!;

const productId = (app: App, code: string) =>
  app.db.select().from(products).where(eq(products.code, code)).get()!.id;

/** Whom a rate is for. */
function columnOf(app: App, ids: Ids, to: Given['to']): SetChange['column'] {
  if (to === null) return { of: 'everyone' };
  if ('set' in to) return { of: sets.find((s) => s.name === to.set)!.of, id: ids.get(to.set)! };
  return { of: 'affiliate', id: named(app, to.affiliate).id };
}

/** What a rate is on. */
function rowOf(app: App, on: Given['on']): SetChange['row'] {
  if (on === null) return { of: 'everything' };
  if (on.startsWith('step:')) return { of: 'step', id: on.slice(5) };
  return { of: 'product', id: productId(app, on) };
}

function give(app: App, manager: Actor, ids: Ids, { to, on, pays, more, starts }: Given): void {
  draftRate(app, manager, {
    column: columnOf(app, ids, to),
    row: rowOf(app, on),
    event: 'sale',
    mode: 'base',
    reward: pays,
    ...(starts ? { from: starts } : {}),
    ...more,
  });
  saveDraft(app, manager, openDraft(app, manager)!.version);
}

/** Tags in their order, and the kiln locked for first sales. */
function orderAndLock(app: App, owner: Actor, ids: Ids): void {
  const tags = sets.filter((s) => s.of === 'tag').map((s) => ids.get(s.name)!);
  orderTags(app, owner, tags);
  draftSwitch(app, owner, { op: 'lock', id: productId(app, 'KILN-S'), event: 'sale', on: true });
  saveDraft(app, owner, openDraft(app, owner)!.version);
}

/** Plans what happened to the terms: call before the days are played. */
export function planTerms(app: App, owner: Actor, { manager, plan, at }: Desk): void {
  const ids = new Map<string, Id<'set'>>();
  plan(at('2026-11-15', 10), () => {
    for (const s of sets) ids.set(s.name, createSet(app, owner, { ...s }).id);
    orderAndLock(app, owner, ids);
  });
  placed.forEach(([day, set, names], i) =>
    plan(at(day, 11) + i * 60_000, () => {
      addMembers(app, manager, ids.get(set)!, {
        text: names.map((n) => named(app, n).handle).join('\n'),
        others: 'move',
      });
    }),
  );
  given.forEach((rate, i) => plan(at(rate.day, 16) + i * 60_000, () => give(app, manager, ids, rate)));
  // announced with the notice that was promised
  plan(at('2026-12-20', 9), () => {
    draftSwitch(app, manager, { op: 'pause', id: ids.get('Market stalls')!, on: true });
    saveDraft(
      app,
      manager,
      dateDraft(app, manager, '2027-01-05T09:00', openDraft(app, manager)!.version).version,
    );
  });
}
