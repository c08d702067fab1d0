import { and, eq, isNotNull } from 'drizzle-orm';
import { carriedOver, gapsOf, type PracticesPolicy } from '../core/recruiting/policy';
import type { PracticeAnswer, UsualPractice } from '../core/recruiting/practices';
import type { SectionsPolicy } from '../core/recruiting/sections-policy';
import type { Actor, App } from '../server/ground/context';
import { newId } from '../server/ground/db/ids';
import { affiliates } from '../server/ground/tables/people';
import { policies } from '../server/ground/tables/policy';
import { sets } from '../server/ground/tables/terms';
import { matchPractices } from '../server/recruit/practices/meant';
import { answerPractice } from '../server/recruit/practices/permissions';
import { changeProgramme } from '../server/registers/programme/write';
import { acceptPolicy } from '../server/setup/policy/acceptance';
import { closeNotice } from '../server/setup/policy/close';
import { draftPolicy, editPolicy } from '../server/setup/policy/draft';
import { publishPolicy } from '../server/setup/policy/publish';
import { listPolicies } from '../server/setup/policy/view';
import type { At, Plan } from './agenda';

/** The first version, in the form of its time: sections with yes and no. */
const first: SectionsPolicy = {
  form: 'sections',
  general:
    'Links are marked as advertising wherever they stand. A visit counts for {window}. Commission is {rate} of a sale unless we agree on more, and is paid once the refund window has passed.',
  ownBrand: false,
  misspellings: false,
  directLinking: false,
  search: 'Ask us before you bid on the name of a product.',
  counts: 'Paid orders, first payments of subscriptions and their renewals where your terms say so',
  declined: 'Own purchases, orders that were never paid, orders sent back',
  branding: 'Quernstone Clayworks is written in two words. Our pictures may be used as they are.',
  accepted: [
    'blog',
    'newsletter',
    'video',
    'podcast',
    'classes',
    'reviews',
    'community',
    'magazine',
    'events',
    'shop',
  ],
  refused: ['paid search'],
  kinds: '',
  ageRestricted: false,
  regulated: false,
  channels: 'our own newsletter and shop counter',
  noticeWeeks: 2,
  atEnd: 'remind',
};

type Said = [answer: PracticeAnswer, says: string];
const answers: Record<UsualPractice, Said> = {
  'search-name': ['not-here', 'Bids on our own name end the agreement.'],
  'search-misspellings': ['not-here', ''],
  'direct-linking': ['not-here', 'An advertisement leads to a page of yours first.'],
  'foreign-coupons': ['not-here', 'Orders with a coupon that was not given to you do not count.'],
  'cash-return': ['ask-first', 'Tell us who the members are and what they get.'],
  'own-readers': ['welcome', 'To people who asked for your letter.'],
  'bought-lists': ['not-here', ''],
  'social-ads': ['ask-first', 'Say what it shows and how long it runs.'],
  comparison: ['welcome', 'With prices of the day, please.'],
  children: ['ask-first', 'For schools and classes; the buyer is always a grown-up.'],
  'name-in-domain': ['not-here', ''],
  resale: ['not-here', 'Our seconds are ours to sell.'],
  'own-purchases': ['not-here', 'Ask us for the price for makers instead.'],
};

/** The second version: what the first said, as a table of practices. */
function second(app: App): PracticesPolicy {
  const groupOf = (name: string) =>
    app.db.select({ id: sets.id }).from(sets).where(eq(sets.name, name)).get()!.id;
  const carried = carriedOver(first);
  return {
    ...carried,
    practices: [
      ...carried.practices.map((p) => {
        const [answer, says] = answers[p.key as UsualPractice];
        const forSchools = p.key === 'children';
        return {
          ...p,
          answer,
          says,
          exceptions: forSchools
            ? [{ who: groupOf('Classrooms'), answer: 'welcome' as const, says: 'You teach them.' }]
            : [],
        };
      }),
      {
        key: newId('practice'),
        name: 'Giving our clay away as a prize',
        words: ['prize', 'raffle', 'giveaway', 'give away'],
        answer: 'ask-first',
        says: 'We often add something to it.',
        exceptions: [],
      },
    ],
    declined: `${carried.declined}, orders with a coupon that was not given to you`,
    refused: ['paid search', 'coupons'],
    owed: 'Lower rates are announced {notice} before they hold. A commission clears {clearing} and is paid {payment}, from {minimum} on.',
    noticeWeeks: 3,
    atEnd: 'hold-pay',
  };
}

/** Writes the first version as it stood before practices were known. */
function layFirst(app: App, actor: Actor): void {
  const now = app.clock.now();
  app.db
    .insert(policies)
    .values({
      id: newId('policy'),
      number: 1,
      state: 'published',
      content: first,
      createdAt: now,
      publishedAt: now,
      holdsFrom: now,
      by: actor.id,
    })
    .run();
  changeProgramme(app, { kindsWanted: first.accepted, kindsUnwanted: first.refused });
}

function publish(app: App, actor: Actor, content: PracticesPolicy): void {
  const draft = draftPolicy(app, actor);
  const edited = editPolicy(app, actor, draft.id, { ...content, version: draft.version });
  publishPolicy(app, actor, edited.id, {
    version: edited.version,
    empty: gapsOf(content).map((gap) => gap.key),
  });
}

/** Some who are with us have asked, and were answered. */
function answerSome(app: App, actor: Actor): void {
  const [one, two] = app.db
    .select({ id: affiliates.id })
    .from(affiliates)
    .where(and(isNotNull(affiliates.joinedAt), eq(affiliates.state, 'active')))
    .orderBy(affiliates.joinedAt, affiliates.id)
    .limit(2)
    .all();
  if (one)
    answerPractice(app, actor, one.id, {
      practice: 'social-ads',
      allowed: true,
      words: 'For the spring sale, with the pictures of the sample book.',
      replaces: null,
    });
  if (two)
    answerPractice(app, actor, two.id, {
      practice: 'cash-return',
      allowed: false,
      words: 'We pay the maker, not the buyer.',
      replaces: null,
    });
}

/** The policy before anybody joins, and its second version, which is in its notice at the end. */
export function planPolicy(
  app: App,
  plan: Plan,
  at: At,
  { owner, manager }: { owner: Actor; manager: Actor },
): void {
  layFirst(app, owner);
  // the clock of that time, which is not ours: the first notice ended before the history that is played begins
  plan(at('2025-12-28', 9), () => closeNotice(app));
  plan(at('2027-03-08', 9), () => {
    publish(app, owner, second(app));
    while (matchPractices(app) > 0);
  });
  plan(at('2027-03-09', 11), () => answerSome(app, manager));
  plan(at('2027-03-10', 9), () => {
    const { id } = listPolicies(app).rows[0]!;
    app.db
      .select({ id: affiliates.id })
      .from(affiliates)
      .where(and(isNotNull(affiliates.joinedAt), eq(affiliates.state, 'active')))
      .orderBy(affiliates.handle)
      .all()
      .forEach((a, i) => {
        if (i % 5 < 3) acceptPolicy(app, { kind: 'affiliate', id: a.id }, id);
      });
  });
}
