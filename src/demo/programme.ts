import { eq } from 'drizzle-orm';
import { millisecondsInDay } from '../core/calendar/zone';
import type { Id } from '../core/text/id';
import { asStaff, type Actor, type App } from '../server/ground/context';
import { affiliates } from '../server/ground/tables/people';
import { sets } from '../server/ground/tables/terms';
import { saveTemplate } from '../server/recruit/letters/letters';
import { submitOffer } from '../server/recruit/offers/catalogue';
import { createNotice } from '../server/recruit/offers/notices';
import { createOffer, openOffer } from '../server/recruit/offers/service';
import { inviteProspects } from '../server/recruit/prospects/invites';
import { saveSegment } from '../server/recruit/roster/segments';
import { productByCode } from '../server/registers/catalogue/store';
import { registryOf } from '../server/registers/programme/record';
import { readSettings, saveRecruiting } from '../server/setup/settings/settings';
import { partnerAt } from '../standins/partners';

type Plan = (at: number, act: () => void) => void;
type At = (day: string, hour?: number) => number;

const idOf = (app: App, code: string) => productByCode(app, code)!.id;

const setOf = (app: App, name: string) =>
  app.db.select({ id: sets.id }).from(sets).where(eq(sets.name, name)).get()!.id;

/** Offer pages, news, templates, segments, who looks after whom, and some invitations. */
export function planPresence(
  app: App,
  plan: Plan,
  { at, owner, manager }: { at: At; owner: Actor; manager: Actor },
): void {
  plan(at('2026-02-02', 9), () => {
    saveRecruiting(app, owner, {
      categories: ['Crafts and studio supplies', 'Courses and teaching'],
      vouchedIn: true,
      refundLine: '12',
      inviteDays: 30,
      messagesPerDay: 50,
      version: readSettings(app).version,
    });
  });
  plan(at('2026-03-02', 9), () => {
    makeOffers(app, manager);
    keepTemplates(app, manager);
  });
  plan(at('2027-03-01', 9), () => putUpNotices(app, manager));
  plan(at('2027-03-10', 15), () => {
    keepSegments(app, manager);
    lookAfter(app, owner, manager);
    invite(app, manager);
  });
  plan(at('2027-03-11', 10) + millisecondsInDay / 24, () => {
    if (registryOf(app))
      submitOffer(
        app,
        manager,
        app.sqlite
          .prepare("SELECT id FROM offers WHERE headline LIKE 'A wheel%'")
          .pluck()
          .get() as Id<'offer'>,
      );
  });
}

/** Offer pages: two that are open, one that is a draft. */
function makeOffers(app: App, manager: Actor): void {
  const wheel = createOffer(app, manager, {
    headline: 'A wheel that fits on a kitchen table',
    about:
      'Everything to throw the first twenty pots: wheel, bat, tools and two kilos of clay, for {price WHEEL-1}. Your readers need no studio and no courage.',
    benefits: [
      'Sent within two days all over Europe',
      'Two years of warranty',
      'A film for each of the first ten pots',
    ],
    language: 'en',
    products: [idOf(app, 'WHEEL-1'), idOf(app, 'ROLL-1')],
    category: 'Crafts and studio supplies',
  });
  openOffer(app, manager, wheel.id, { on: true, version: wheel.version });
  const course = createOffer(app, manager, {
    headline: 'A throwing course to watch with muddy hands',
    about: 'Twenty lessons, each shorter than a firing. You earn {rate THROW-V} on every one sold.',
    benefits: ['Nothing to send, nothing comes back', 'Subtitles in five languages'],
    language: 'en',
    products: [idOf(app, 'THROW-V')],
    category: 'Courses and teaching',
  });
  openOffer(app, manager, course.id, { on: true, version: course.version });
  createOffer(app, manager, {
    headline: 'Glazes by post, every month',
    about: 'The box of the month for {price GLAZE-M}.',
    benefits: [],
    language: 'en',
    products: [idOf(app, 'GLAZE-M')],
    category: 'Crafts and studio supplies',
  });
}

function keepTemplates(app: App, manager: Actor): void {
  saveTemplate(app, manager, {
    use: 'invite',
    name: 'First words',
    subject: '',
    body: 'Hello {name},\n\nwe make table-top wheels at Quernstone Clayworks and would like you to try one. We pay {rate} of each sale, {rate WHEEL-1} on the wheel.\n\nAccept, and your links are ready at once.',
  });
  saveTemplate(app, manager, {
    use: 'message',
    name: 'Back in stock',
    subject: 'Wheels are back, {name}',
    body: 'Hello {name},\n\nforty wheels leave the workshop on Monday. You earn {rate WHEEL-1} on each; your links are in the portal: {portal}',
  });
}

function putUpNotices(app: App, manager: Actor): void {
  createNotice(app, manager, {
    kind: 'news',
    title: 'The course pays more',
    body: 'From today on you earn {rate THROW-V} on the throwing course.',
    product: idOf(app, 'THROW-V'),
  });
  createNotice(app, manager, {
    kind: 'note',
    title: 'How to show the wheel',
    body: 'It runs on an ordinary socket and weighs eleven kilos: say so, it is what people ask.',
    product: idOf(app, 'WHEEL-1'),
  });
}

function keepSegments(app: App, manager: Actor): void {
  saveSegment(app, manager, {
    name: 'Teachers',
    filter: { state: 'active', kind: 'classes' },
    columns: ['handle', 'country', 'group', 'clicks', 'orders', 'owed', 'since'],
  });
  saveSegment(app, manager, {
    name: 'Without a click',
    filter: { state: 'active', only: 'no-clicks' },
    columns: ['handle', 'country', 'email', 'since'],
  });
  saveSegment(app, manager, { name: 'Film makers', filter: { tag: setOf(app, 'video') }, columns: [] });
}

/** Two of three affiliates have somebody who looks after them. */
function lookAfter(app: App, owner: Actor, manager: Actor): void {
  app.db
    .select({ id: affiliates.id })
    .from(affiliates)
    .where(eq(affiliates.state, 'active'))
    .orderBy(affiliates.handle)
    .all()
    .forEach((a, i) => {
      if (i % 3 < 2)
        app.db
          .update(affiliates)
          .set({ lookedAfter: asStaff(i % 3 ? manager : owner) })
          .where(eq(affiliates.id, a.id))
          .run();
    });
}

/** What waits for the registry is handed over when the server first runs; answers come with the clock. */
function invite(app: App, manager: Actor): void {
  if (!registryOf(app)) return;
  const message =
    'Hello {name},\n\nwe make table-top wheels and would like you to try one. We pay {rate WHEEL-1} on it.';
  inviteProspects(app, manager, {
    ids: [3, 11, 27, 42, 63, 88, 101].map((i) => partnerAt(i).id),
    message,
    group: setOf(app, 'Studio circle'),
    tags: [setOf(app, 'launch help')],
  });
}
