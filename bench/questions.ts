import type { Database } from 'better-sqlite3';

export interface Question {
  path: string;
  by: 'desk' | 'portal';
  /** figures over many days may take longer than a list */
  figures: boolean;
}

const desk = [
  '/today',
  '/counts',
  '/products',
  '/products?state=live',
  '/products?q=wheel',
  '/products/{product}',
  '/products/{product}/co-owners',
  '/affiliates',
  '/affiliates?limit=100',
  '/affiliates?sort=newest',
  '/affiliates?state=paused',
  '/affiliates?q=glaze',
  '/affiliates?q=0',
  '/affiliates?card={card}',
  '/affiliates?group={group}',
  '/affiliates?tag={tag}',
  '/affiliates?only=no-clicks',
  '/affiliates?only=bounced',
  '/affiliates?country=PT',
  '/affiliates/{affiliate}',
  '/affiliates/{affiliate}/places',
  '/affiliates/{affiliate}/referral',
  '/segments',
  '/applications',
  '/applications?state=declined',
  '/applications?q=glaze',
  '/applications/{application}',
  '/screening',
  '/orders',
  '/orders?q=L-41',
  '/orders?q=0',
  '/orders?q={reference}',
  '/orders?affiliate={affiliate}',
  '/orders/{order}',
  '/unconfirmed',
  '/reports',
  '/reports?outcome=refused',
  '/reports?q=L-41',
  '/reports/{report}',
  '/connection',
  '/ledger',
  '/ledger/entries',
  '/ledger/entries?affiliate={affiliate}',
  '/ledger/entries?event=paid',
  '/commissions',
  '/commissions?state=held',
  '/commissions?due=true',
  '/commissions?affiliate={affiliate}',
  '/payouts',
  '/payouts/{run}',
  '/audit',
  '/audit?subject={affiliate}',
  '/timeline',
  '/rate-book',
  '/sets',
  '/sets/{card}/members',
  '/sets/{group}/removal',
  '/draft',
  '/rehearsal-sample',
  '/prospects',
  '/prospects?q=kiln',
  '/prospects?q=0',
  '/prospects/{prospect}',
  '/invites',
  '/offers',
  '/notices',
  '/policies',
  '/policy',
  '/funnels',
  '/settings',
  '/staff',
  '/templates',
  '/creatives',
  '/creatives?order=clicks',
  '/creatives?state=unused',
  '/creatives?q=wheel',
  '/creatives/survey',
  '/coverage',
  '/coupons',
  '/requests',
  '/search?q=wheel',
  '/search?q=0',
  '/search?q={reference}',
  '/search?q=zzzz',
];

const portal = [
  '/portal/home',
  '/portal/earnings',
  '/portal/payments',
  '/portal/policy',
  '/portal/resources',
  '/portal/payout-details',
  '/portal/earnings?state=paid',
  '/portal/earnings/sums',
  '/portal/figures',
  '/portal/figures?by=link',
  '/portal/figures?by=creative',
  '/portal/material',
  '/portal/material/survey',
  '/portal/coupons',
  '/portal/links',
  '/portal/links/survey',
  '/portal/profile',
];

/** Whom and what there is most of in the data, by the names that the paths above have for them. */
function busiest(db: Database): Record<string, string> {
  const one = (sql: string) => db.prepare(sql).pluck().get() as string;
  const affiliate = one(
    'SELECT affiliate FROM orders WHERE affiliate IS NOT NULL GROUP BY 1 ORDER BY count(*) DESC LIMIT 1',
  );
  const product = one('SELECT product FROM order_lines GROUP BY 1 ORDER BY count(*) DESC LIMIT 1');
  const order = one('SELECT id FROM orders WHERE granted > 0 ORDER BY id DESC LIMIT 1');
  const reference = one('SELECT reference FROM orders ORDER BY id DESC LIMIT 1');
  const run = one('SELECT run FROM payments GROUP BY 1 ORDER BY count(*) DESC LIMIT 1');
  const application = one("SELECT id FROM applications WHERE state = 'waiting' LIMIT 1");
  const [card, group, tag] = ['card', 'group', 'tag'].map((kind) =>
    one(`SELECT set_id FROM memberships WHERE "of" = '${kind}' GROUP BY 1 ORDER BY count(*) DESC LIMIT 1`),
  );
  const prospect = one('SELECT id FROM prospects LIMIT 1');
  const report = one('SELECT id FROM reports LIMIT 1');
  return {
    affiliate,
    product,
    order,
    reference,
    run,
    application,
    prospect,
    report,
    card: card!,
    group: group!,
    tag: tag!,
  };
}

/** Every list, count, figure and search of desk and portal, for whom and what there is most of in the data. */
export function questionsOf(db: Database): Question[] {
  const ids = busiest(db);
  const path = (template: string) =>
    `/api/v1${template.replace(/\{(\w+)\}/g, (_, name: string) => ids[name]!)}`;
  return [
    ...desk.map((template): Question => ({
      path: path(template),
      by: 'desk',
      figures:
        template === '/today' || template.startsWith('/products') || template === '/screening/rehearsal',
    })),
    ...portal.map((template): Question => ({
      path: path(template),
      by: 'portal',
      figures: template === '/portal/home' || template.startsWith('/portal/figures'),
    })),
  ];
}
