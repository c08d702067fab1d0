import { sql } from 'drizzle-orm';
import {
  blob,
  check,
  index,
  integer,
  primaryKey,
  sqliteTable,
  text,
  uniqueIndex,
} from 'drizzle-orm/sqlite-core';
import type { Credit } from '../../../core/attribution/credit';
import type { ProductDetails } from '../../../core/pricing/product';
import type { Earned } from '../../../core/terms/earned';
import type { Payments, Reward, What } from '../../../core/terms/rate';
import type { Working } from '../../../core/terms/resolve';
import { id, moment, version } from './columns';

/** The merchant's programme: exactly one row. */
export const programme = sqliteTable(
  'programme',
  {
    id: integer('id').primaryKey(),
    name: text('name').notNull(),
    contact: text('contact').notNull(),
    intro: text('intro').notNull().default(''),
    /** at most two sentences, for lists of programmes */
    summary: text('summary').notNull().default(''),
    base: text('base').notNull(),
    zone: text('zone').notNull(),
    windowDays: integer('window_days').notNull().default(30),
    /** messages a day to people who have not joined */
    messagesPerDay: integer('messages_per_day').notNull().default(50),
    bufferDays: integer('buffer_days').notNull().default(3),
    clearing: text('clearing', { enum: ['automatic', 'person'] })
      .notNull()
      .default('automatic'),
    minimumPayout: integer('minimum_payout').notNull().default(0),
    /** a run above this sum needs a second person; null = never */
    approvalAbove: integer('approval_above'),
    /** counted clicks of one network address on a product that are paid a day; null = all */
    clicksPerAddress: integer('clicks_per_address').default(3),
    /** days that reports and unconfirmed sales are kept in the log */
    logDays: integer('log_days').notNull().default(180),
    promiseDays: integer('promise_days').notNull().default(14),
    /** the account that payouts are made from */
    debtorName: text('debtor_name').notNull().default(''),
    debtorIban: text('debtor_iban').notNull().default(''),
    /** hosts that links may lead to */
    landingHosts: text('landing_hosts', { mode: 'json' }).$type<string[]>().notNull().default([]),
    demo: integer('demo', { mode: 'boolean' }).notNull().default(false),
    /** where the demo's clock stood last: it stands still while the server does not run */
    clockAt: integer('clock_at'),
    /** the last day whose clicks were counted towards rewards by the click */
    clicksTo: text('clicks_to'),
    /** weeks that a cut of rates is announced before it holds */
    noticeWeeks: integer('notice_weeks').notNull().default(2),
    /** what an affiliate earns from sales of those it brought in, for those who join from now on; 0 = nothing */
    referralPpm: integer('referral_ppm').notNull().default(0),
    referralOf: text('referral_of', { enum: ['sale', 'commission'] })
      .notNull()
      .default('commission'),
    /** months from joining; null = for ever */
    referralMonths: integer('referral_months'),
    /** a sale that earns an affiliate less is pointed out as too little to be promoted; minor units of base */
    lowEarning: integer('low_earning').notNull().default(200),
    /** what the payment of a sale costs: parts per million of the price and minor units of base */
    /** what buyers read: the name of the shop and whom to ask; empty = the merchant's name and contact */
    brand: text('brand').notNull().default(''),
    supportAddress: text('support_address').notNull().default(''),
    supportPage: text('support_page').notNull().default(''),
    supportPhone: text('support_phone').notNull().default(''),
    /** what the programme is about, the main category first; kinds of affiliates that are wanted, and not */
    categories: text('categories', { mode: 'json' })
      .$type<string[]>()
      .notNull()
      .default(sql`'[]'`),
    kindsWanted: text('kinds_wanted', { mode: 'json' })
      .$type<string[]>()
      .notNull()
      .default(sql`'[]'`),
    kindsUnwanted: text('kinds_unwanted', { mode: 'json' })
      .$type<string[]>()
      .notNull()
      .default(sql`'[]'`),
    /** those the registry vouches for are let in; the shrunk refund rate above which trust lapses and applicants are marked; days an invitation stands */
    vouchedIn: integer('vouched_in', { mode: 'boolean' }).notNull().default(true),
    refundLine: integer('refund_line').notNull().default(120_000),
    inviteDays: integer('invite_days').notNull().default(30),
    feePpm: integer('fee_ppm').notNull().default(0),
    feeFixed: integer('fee_fixed').notNull().default(0),
    version: version(),
  },
  (t) => [check('programme_one', sql`${t.id} = 1`), check('programme_minimum', sql`${t.minimumPayout} >= 0`)],
);

export const staff = sqliteTable('staff', {
  id: id(),
  name: text('name').notNull(),
  email: text('email').notNull().unique(),
  role: text('role', { enum: ['owner', 'manager', 'finance', 'viewer'] }).notNull(),
  password: text('password').notNull(),
  active: integer('active', { mode: 'boolean' }).notNull().default(true),
  createdAt: moment('created_at').notNull(),
  version: version(),
});

export const sessions = sqliteTable(
  'sessions',
  {
    tokenHash: text('token_hash').primaryKey(),
    kind: text('kind', { enum: ['staff', 'affiliate'] }).notNull(),
    person: text('person').notNull(),
    createdAt: moment('created_at').notNull(),
    seenAt: moment('seen_at').notNull(),
  },
  (t) => [index('sessions_person').on(t.person)],
);

/** One-time links to set a password, of affiliates and of staff. All of a person's die with the first that is used. */
export const invitations = sqliteTable(
  'invitations',
  {
    tokenHash: text('token_hash').primaryKey(),
    person: text('affiliate').notNull(),
    kind: text('kind', { enum: ['staff', 'affiliate'] })
      .notNull()
      .default('affiliate'),
    createdAt: moment('created_at').notNull(),
    /** machine time */ until: moment('until'),
    usedAt: moment('used_at'),
  },
  (t) => [index('invitations_person').on(t.kind, t.person)],
);

export const products = sqliteTable(
  'products',
  {
    id: id(),
    code: text('code').notNull().unique(),
    name: text('name').notNull(),
    description: text('description').notNull().default(''),
    kind: text('kind').notNull().default('one-off'),
    currency: text('currency').notNull(),
    price: integer('price'),
    refundDays: integer('refund_days').notNull().default(14),
    salesPage: text('sales_page').notNull().default(''),
    state: text('state', { enum: ['draft', 'live', 'paused', 'retired'] })
      .notNull()
      .default('draft'),
    createdAt: moment('created_at').notNull(),
    retiredAt: moment('retired_at'),
    /** what its kind and its presentation need beside that */
    details: text('details', { mode: 'json' })
      .$type<Partial<ProductDetails>>()
      .notNull()
      .default(sql`'{}'`),
    sold: integer('sold').notNull().default(0),
    version: version(),
  },
  (t) => [
    check('products_price', sql`${t.price} IS NULL OR ${t.price} >= 0`),
    check('products_refund', sql`${t.refundDays} BETWEEN 0 AND 365`),
  ],
);

export const rates = sqliteTable(
  'rates',
  {
    id: id(),
    mode: text('mode', { enum: ['base', 'up-to', 'plus'] })
      .notNull()
      .default('base'),
    rung: text('rung', { enum: ['personal', 'tag', 'group', 'card', 'product', 'programme'] }).notNull(),
    who: text('who'),
    what: text('what', { mode: 'json' }).$type<What>().notNull(),
    product: text('product').references(() => products.id),
    event: text('event', { enum: ['sale', 'renewal', 'lead', 'click'] }).notNull(),
    payments: text('payments', { mode: 'json' }).$type<Payments | null>(),
    reward: text('reward', { mode: 'json' }).$type<Reward>().notNull(),
    cap: integer('cap'),
    label: text('label').notNull(),
    from: moment('valid_from').notNull(),
    until: moment('valid_until'),
    createdAt: moment('created_at').notNull(),
    createdBy: text('created_by').notNull().default(''),
    /** when its end was set, and by whom: a rate that another took the place of, or that somebody ended */
    endedAt: moment('ended_at'),
    endedBy: text('ended_by'),
    draft: text('draft'),
    /** the rate that took its place, if one did */
    endedFor: text('ended_for'),
    /** its end as it was saved, whatever ended it since: only what was saved without one takes the place of others */
    untilSaved: moment('until_saved'),
  },
  (t) => [
    index('rates_product').on(t.product),
    check('rates_span', sql`${t.until} IS NULL OR ${t.until} >= ${t.from}`),
  ],
);

/** An opening product and the offers that follow it. */
export const funnels = sqliteTable(
  'funnels',
  {
    id: id(),
    name: text('name').notNull(),
    opening: text('opening')
      .notNull()
      .references(() => products.id),
    first: text('first'),
    createdAt: moment('created_at').notNull(),
    removedAt: moment('removed_at'),
    version: version(),
  },
  (t) => [index('funnels_opening').on(t.opening)],
);

/** A follow-on offer: what is offered, at which price, and where a yes and a no lead (a step's code, or null = to the confirmation page). */
export const funnelSteps = sqliteTable(
  'funnel_steps',
  {
    code: text('code').primaryKey(),
    funnel: text('funnel')
      .notNull()
      .references(() => funnels.id),
    product: text('product')
      .notNull()
      .references(() => products.id),
    position: integer('position').notNull(),
    /** minor units of the product's currency; null = the product's own price */
    price: integer('price'),
    onYes: text('on_yes'),
    onNo: text('on_no'),
  },
  (t) => [
    index('funnel_steps_funnel').on(t.funnel, t.position),
    check('funnel_steps_price', sql`${t.price} IS NULL OR ${t.price} >= 0`),
  ],
);

/** Whether the pages that links lead to answered when they were last looked at. */
export const pageChecks = sqliteTable('page_checks', {
  address: text('address').primaryKey(),
  at: moment('at').notNull(),
  status: integer('status').notNull(),
  fault: text('fault'),
});

/** Who brought an affiliate in, and what that one earns of its sales: the terms of the day it joined. */
export const referrals = sqliteTable(
  'referrals',
  {
    id: id(),
    affiliate: text('affiliate')
      .notNull()
      .references(() => affiliates.id),
    by: text('by')
      .notNull()
      .references(() => affiliates.id),
    ppm: integer('ppm').notNull(),
    of: text('of', { enum: ['sale', 'commission'] }).notNull(),
    from: moment('valid_from').notNull(),
    until: moment('valid_until'),
    setBy: text('set_by').notNull(),
  },
  (t) => [index('referrals_affiliate').on(t.affiliate), index('referrals_by').on(t.by)],
);

/** Partners in a product and their percent of what a sale leaves. */
export const coOwners = sqliteTable(
  'co_owners',
  {
    id: id(),
    product: text('product')
      .notNull()
      .references(() => products.id),
    payee: text('payee')
      .notNull()
      .references(() => affiliates.id),
    ppm: integer('ppm').notNull(),
    from: moment('valid_from').notNull(),
    until: moment('valid_until'),
    by: text('by').notNull(),
  },
  (t) => [index('co_owners_product').on(t.product)],
);

export const affiliates = sqliteTable(
  'affiliates',
  {
    id: id(),
    handle: text('handle').notNull().unique(),
    name: text('name').notNull(),
    email: text('email').notNull(),
    emailKey: text('email_key').notNull().unique(),
    country: text('country').notNull(),
    address: text('address').notNull().default(''),
    /** the address as it is compared; null until it was looked at */
    addressKey: text('address_key'),
    sites: text('sites', { mode: 'json' }).$type<string[]>().notNull(),
    audience: text('audience').notNull().default(''),
    state: text('state', { enum: ['applied', 'active', 'paused', 'ended', 'blocked'] })
      .notNull()
      .default('applied'),
    timing: text('timing', { enum: ['at-sale', 'after-hold'] })
      .notNull()
      .default('after-hold'),
    password: text('password'),
    payeeHolder: text('payee_holder').notNull().default(''),
    payeeIban: text('payee_iban').notNull().default(''),
    payeeAddress: text('payee_address').notNull().default(''),
    createdAt: moment('created_at').notNull(),
    joinedAt: moment('joined_at'),
    version: version(),
    /** false for a partner in a product who promotes nothing; who brought an applicant in, until it joins */
    promotes: integer('promotes', { mode: 'boolean' }).notNull().default(true),
    broughtBy: text('brought_by'),
    /** kind of partner; who of the staff looks after it; false: wants no newsletters; what its mailbox last said where a message bounced */
    kind: text('kind').notNull().default(''),
    lookedAfter: text('looked_after'),
    newsletters: integer('newsletters', { mode: 'boolean' }).notNull().default(true),
    mailFault: text('mail_fault'),
    /** paused because it has not accepted the policy: it resumes by accepting */
    pausedFor: text('paused_for'),
  },
  (t) => [
    index('affiliates_iban')
      .on(t.payeeIban)
      .where(sql`${t.payeeIban} <> ''`),
    index('affiliates_address').on(t.addressKey),
    index('affiliates_state').on(t.state, t.id),
    index('affiliates_name').on(t.name, t.id),
    index('affiliates_created').on(t.createdAt, t.id),
  ],
);

/** What an affiliate may promote; product null = everything. Dated, so that a late report is judged by its day. */
export const approvals = sqliteTable(
  'approvals',
  {
    id: id(),
    affiliate: text('affiliate')
      .notNull()
      .references(() => affiliates.id),
    product: text('product').references(() => products.id),
    timing: text('timing', { enum: ['at-sale', 'after-hold'] }).notNull(),
    from: moment('valid_from').notNull(),
    until: moment('valid_until'),
  },
  (t) => [index('approvals_affiliate').on(t.affiliate)],
);

export const links = sqliteTable(
  'links',
  {
    code: text('code').primaryKey(),
    affiliate: text('affiliate')
      .notNull()
      .references(() => affiliates.id),
    product: text('product')
      .notNull()
      .references(() => products.id),
    createdAt: moment('created_at').notNull(),
  },
  (t) => [uniqueIndex('links_pair').on(t.affiliate, t.product)],
);

export const visits = sqliteTable(
  'visits',
  {
    id: text('id').primaryKey(),
    link: text('link').notNull(),
    affiliate: text('affiliate').notNull(),
    product: text('product').notNull(),
    at: moment('at').notNull(),
    visitor: text('visitor'),
    landing: text('landing').notNull(),
    subIds: text('sub_ids'),
    barred: text('barred'),
    /** why it is no click, or one that pays nothing; a sale that came of it is credited all the same. Digest of the network address, with the day in it */
    uncounted: text('uncounted'),
    address: text('address'),
  },
  (t) => [
    index('visits_affiliate').on(t.affiliate, t.at, t.barred),
    index('visits_visitor')
      .on(t.visitor, t.at)
      .where(sql`${t.visitor} IS NOT NULL`),
  ],
);

/** Clicks by day and product: what figures read instead of the visits. Automated visits are not in it. */
export const clickDays = sqliteTable(
  'click_days',
  {
    day: text('day').notNull(),
    product: text('product').notNull(),
    clicks: integer('clicks').notNull(),
  },
  (t) => [primaryKey({ columns: [t.day, t.product] })],
);

export const keys = sqliteTable('keys', {
  id: id(),
  label: text('label').notNull(),
  secret: text('secret').notNull(),
  createdAt: moment('created_at').notNull(),
  /** whether pages may report sales by the fallback picture with it: anybody can, so that such a sale is unconfirmed */
  pictures: integer('pictures', { mode: 'boolean' }).notNull().default(false),
});

export const reports = sqliteTable(
  'reports',
  {
    id: id(),
    at: moment('at').notNull(),
    call: text('call').notNull(),
    way: text('way', { enum: ['server', 'picture'] }).notNull(),
    key: text('key'),
    reference: text('reference'),
    outcome: text('outcome').notNull(),
    status: integer('status').notNull(),
    said: text('said').notNull(),
    body: text('body').notNull(),
    order: text('order_id'),
    /** what anybody can send is one row for an address and minute, of the last that came, with how many came; the slot says which */
    count: integer('count').notNull().default(1),
    slot: text('slot').unique(),
  },
  (t) => [
    index('reports_outcome').on(t.outcome, t.at),
    index('reports_order').on(t.order),
    index('reports_at').on(t.at),
    index('reports_unclaimed')
      .on(t.reference)
      .where(sql`${t.order} IS NULL`),
  ],
);

/** Webhook ids that were seen, so that an id with another body is refused. */
export const seenMessages = sqliteTable(
  'seen_messages',
  {
    id: text('id').notNull(),
    key: text('key').notNull(),
    bodyHash: text('body_hash').notNull(),
    at: moment('at').notNull(),
  },
  (t) => [primaryKey({ columns: [t.key, t.id] })],
);

export const orders = sqliteTable(
  'orders',
  {
    id: id(),
    reference: text('reference').notNull(),
    payment: text('payment').notNull(),
    placedAt: moment('placed_at').notNull(),
    day: text('day').notNull(),
    receivedAt: moment('received_at').notNull(),
    currency: text('currency').notNull(),
    rateMicros: integer('rate_micros').notNull(),
    value: integer('value').notNull(),
    base: integer('base').notNull(),
    way: text('way', { enum: ['server', 'picture'] }).notNull(),
    visit: text('visit'),
    affiliate: text('affiliate'),
    creditedBy: text('credited_by'),
    reason: text('reason').notNull(),
    credit: text('credit', { mode: 'json' }).$type<Credit>().notNull(),
    working: text('working', { mode: 'json' }).$type<Working>(),
    /** commission granted for it, minor units of base: repeated from the journal for figures */
    granted: integer('granted').notNull().default(0),
    customer: text('customer'),
    test: integer('test', { mode: 'boolean' }).notNull().default(false),
    content: text('content').notNull(),
    otherWay: text('other_way'),
    /** what the payment is: a first sale, a renewal, a lead; its number within the subscription; the moment its rates were taken as of */
    event: text('event', { enum: ['sale', 'renewal', 'lead', 'click'] })
      .notNull()
      .default('sale'),
    number: integer('number').notNull().default(1),
    subscription: text('subscription'),
    resolvedAt: moment('resolved_at'),
  },
  (t) => [
    uniqueIndex('orders_reference').on(t.reference, t.payment),
    index('orders_placed').on(t.placedAt, t.id),
    index('orders_affiliate').on(t.affiliate, t.placedAt),
    index('orders_subscription')
      .on(t.subscription, t.number)
      .where(sql`${t.subscription} IS NOT NULL`),
    index('orders_doubled')
      .on(t.receivedAt)
      .where(sql`${t.otherWay} IS NOT NULL`),
    index('orders_day').on(t.day, t.test, t.base, t.granted, t.affiliate),
    check('orders_value', sql`${t.value} >= 0 AND ${t.base} >= 0`),
  ],
);

/** Sales known by a picture alone: unconfirmed, granted to nobody, in no figure but their own. They become a row of `orders`, or are set aside. */
export const pictured = sqliteTable(
  'pictured',
  {
    id: id(),
    reference: text('reference').notNull(),
    payment: text('payment').notNull(),
    at: moment('at').notNull(),
    day: text('day').notNull(),
    key: text('key').notNull(),
    product: text('product')
      .notNull()
      .references(() => products.id),
    currency: text('currency').notNull(),
    amount: integer('amount').notNull(),
    visit: text('visit'),
    visitor: text('visitor'),
    coupon: text('coupon'),
    affiliate: text('affiliate'),
    reason: text('reason').notNull(),
    content: text('content').notNull(),
    /** what of price and quantity does not fit the product, in words; empty = it fits */
    misfit: text('misfit').notNull().default(''),
    state: text('state', { enum: ['open', 'reported', 'confirmed', 'set-aside'] })
      .notNull()
      .default('open'),
    order: text('order_id').references(() => orders.id),
    decidedAt: moment('decided_at'),
    decidedBy: text('decided_by'),
    note: text('note').notNull().default(''),
  },
  (t) => [
    uniqueIndex('pictured_once').on(t.reference, t.payment),
    index('pictured_open').on(t.state, t.at, t.id),
    check('pictured_amount', sql`${t.amount} >= 0`),
  ],
);

export const orderLines = sqliteTable(
  'order_lines',
  {
    order: text('order_id')
      .notNull()
      .references(() => orders.id),
    position: integer('position').notNull(),
    product: text('product')
      .notNull()
      .references(() => products.id),
    quantity: integer('quantity').notNull(),
    amount: integer('amount').notNull(),
    discount: integer('discount').notNull(),
    value: integer('value').notNull(),
    base: integer('base').notNull(),
    valueLeft: integer('value_left').notNull(),
    reward: text('reward', { mode: 'json' }).$type<Earned | null>(),
    /** false where the affiliate was not approved for the product: for replaying */
    approved: integer('approved', { mode: 'boolean' }).notNull().default(true),
    step: text('step'),
    commission: integer('commission').notNull(),
    commissionLeft: integer('commission_left').notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.order, t.position] }),
    index('order_lines_product').on(t.product),
    check('order_lines_left', sql`${t.valueLeft} BETWEEN 0 AND ${t.value}`),
  ],
);

export const refunds = sqliteTable(
  'refunds',
  {
    id: id(),
    reference: text('reference').notNull().unique(),
    order: text('order_id')
      .notNull()
      .references(() => orders.id),
    at: moment('at').notNull(),
    day: text('day').notNull(),
    kind: text('kind', { enum: ['refund', 'chargeback'] }).notNull(),
    value: integer('value').notNull(),
    base: integer('base').notNull(),
    reversed: integer('reversed').notNull(),
    content: text('content').notNull(),
    working: text('working', { mode: 'json' }).$type<RefundWorking[]>().notNull(),
  },
  (t) => [index('refunds_order').on(t.order), index('refunds_day').on(t.day, t.reversed)],
);

/** A subscription or a plan of instalments, from its first payment on. Its affiliate is the one credited then. */
export const subscriptions = sqliteTable(
  'subscriptions',
  {
    reference: text('reference').primaryKey(),
    order: text('order_id')
      .notNull()
      .references(() => orders.id),
    product: text('product')
      .notNull()
      .references(() => products.id),
    affiliate: text('affiliate'),
    visit: text('visit'),
    email: text('email').notNull().default(''),
    startedAt: moment('started_at').notNull(),
    /** number of the latest payment, when the next falls due (null = no more), and for which payment a notice was sent */
    number: integer('number').notNull().default(1),
    nextAt: moment('next_at'),
    noticed: integer('noticed').notNull().default(1),
  },
  (t) => [
    index('subscriptions_next')
      .on(t.nextAt)
      .where(sql`${t.nextAt} IS NOT NULL`),
  ],
);

/** What was uploaded: pictures of products, files that are delivered. The same content is kept once. */
export const files = sqliteTable(
  'files',
  {
    id: id(),
    /** null = of the programme */ product: text('product').references(() => products.id),
    use: text('use', { enum: ['picture', 'delivery', 'logo'] }).notNull(),
    name: text('name').notNull(),
    type: text('type').notNull(),
    size: integer('size').notNull(),
    hash: text('hash').notNull(),
    content: blob('content', { mode: 'buffer' }).notNull(),
    at: moment('at').notNull(),
    by: text('by').notNull(),
    removedAt: moment('removed_at'),
  },
  (t) => [index('files_product').on(t.product, t.use)],
);

/** A price that was said to a buyer at checkout, and the unit that is kept for it. */
export const quotes = sqliteTable(
  'quotes',
  {
    id: id(),
    product: text('product')
      .notNull()
      .references(() => products.id),
    quantity: integer('quantity').notNull(),
    price: integer('price').notNull(),
    currency: text('currency').notNull(),
    at: moment('at').notNull(),
    until: moment('until').notNull(),
    order: text('order_id'),
    /** the signed message that asked, so that one message makes one quote */
    message: text('message').unique(),
  },
  (t) => [
    index('quotes_open')
      .on(t.product, t.until)
      .where(sql`${t.order} IS NULL`),
    check('quotes_quantity', sql`${t.quantity} > 0`),
  ],
);

/** A line of a refund: value left and commission left before and after. Amounts in base but `value`s in order currency. */
export interface RefundWorking {
  product: string;
  refunded: number;
  valueLeft: number;
  baseLeft: number;
  commissionBefore: number;
  commissionLeft: number;
}

/** Shares of a line beside its commission, with what each is a percent of; amounts in minor units of base. Their money is in `commissions`. */
export const shareLines = sqliteTable(
  'share_lines',
  {
    order: text('order_id')
      .notNull()
      .references(() => orders.id),
    position: integer('position').notNull(),
    kind: text('kind', { enum: ['referral', 'co-owner'] }).notNull(),
    payee: text('payee')
      .notNull()
      .references(() => affiliates.id),
    ppm: integer('ppm').notNull(),
    of: text('of', { enum: ['sale', 'commission', 'rest'] }).notNull(),
    basis: integer('basis').notNull(),
    amount: integer('amount').notNull(),
    left: integer('amount_left').notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.order, t.position, t.kind, t.payee] }),
    check('share_lines_left', sql`${t.left} BETWEEN 0 AND ${t.amount}`),
  ],
);

/** A commission: where it stands is derived from the journal; the columns repeat it for lists and are checked against it. */
export const commissions = sqliteTable(
  'commissions',
  {
    id: id(),
    order: text('order_id')
      .notNull()
      .references(() => orders.id),
    affiliate: text('affiliate')
      .notNull()
      .references(() => affiliates.id),
    /** the commission of the one credited, or somebody's share of the same sale */
    kind: text('kind', { enum: ['commission', 'referral', 'co-owner'] })
      .notNull()
      .default('commission'),
    granted: integer('granted').notNull(),
    timing: text('timing', { enum: ['at-sale', 'after-hold'] }).notNull(),
    soldAt: moment('sold_at').notNull(),
    clearsAt: moment('clears_at').notNull(),
    refundableUntil: moment('refundable_until').notNull(),
    state: text('state', { enum: ['held', 'cleared', 'in-run', 'paid', 'declined', 'reversed'] }).notNull(),
    stateSince: moment('state_since').notNull(),
    stateBy: text('state_by').notNull(),
    held: integer('held').notNull(),
    cleared: integer('cleared').notNull(),
    inRun: integer('in_run').notNull(),
    paid: integer('paid').notNull(),
    /** sum of the corrections by people, and what of a negative balance was given up */
    adjusted: integer('adjusted').notNull().default(0),
    givenUp: integer('given_up').notNull().default(0),
    declined: text('declined'),
    declinedAmount: integer('declined_amount').notNull().default(0),
    declinedDay: text('declined_day'),
  },
  (t) => [
    uniqueIndex('commissions_once').on(t.order, t.kind, t.affiliate),
    uniqueIndex('commissions_one')
      .on(t.order)
      .where(sql`${t.kind} = 'commission'`),
    index('commissions_due')
      .on(t.clearsAt)
      .where(sql`${t.held} > 0`),
    index('commissions_affiliate').on(t.affiliate, t.soldAt),
    index('commissions_at_risk')
      .on(t.refundableUntil, t.affiliate, t.paid, t.inRun)
      .where(sql`${t.paid} + ${t.inRun} > 0`),
    index('commissions_unpaid')
      .on(t.clearsAt, t.cleared)
      .where(sql`${t.cleared} > 0`),
    index('commissions_open')
      .on(t.affiliate)
      .where(sql`${t.cleared} <> 0`),
    index('commissions_state').on(t.state, t.soldAt, t.id),
    index('commissions_declined')
      .on(t.declinedDay, t.declinedAmount)
      .where(sql`${t.declinedDay} IS NOT NULL`),
  ],
);

export const entries = sqliteTable(
  'entries',
  {
    id: id(),
    at: moment('at').notNull(),
    day: text('day').notNull(),
    event: text('event').notNull(),
    memo: text('memo').notNull(),
    by: text('by').notNull(),
    run: text('run'),
    payment: text('payment'),
    refund: text('refund'),
    order: text('order_id'),
    /** what makes the entry happen once only */
    once: text('once').notNull().unique(),
  },
  (t) => [index('entries_at').on(t.at, t.id)],
);

export const entryLines = sqliteTable(
  'entry_lines',
  {
    entry: text('entry')
      .notNull()
      .references(() => entries.id),
    position: integer('position').notNull(),
    account: text('account', {
      enum: ['expense', 'held', 'cleared', 'in-run', 'bank', 'write-off'],
    }).notNull(),
    affiliate: text('affiliate'),
    commission: text('commission'),
    /** debit positive, credit negative */
    amount: integer('amount').notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.entry, t.position] }),
    index('entry_lines_account').on(t.account, t.affiliate, t.amount),
    index('entry_lines_commission').on(t.commission),
    check('entry_lines_amount', sql`${t.amount} <> 0`),
  ],
);

export const runs = sqliteTable(
  'runs',
  {
    id: id(),
    number: integer('number').notNull().unique(),
    state: text('state', {
      enum: ['draft', 'approving', 'approved', 'reopening', 'sending', 'sent', 'settled', 'discarded'],
    }).notNull(),
    cutoff: moment('cutoff').notNull(),
    minimum: integer('minimum').notNull(),
    createdAt: moment('created_at').notNull(),
    createdBy: text('created_by').notNull(),
    /** the strictest sum above which a second person approves, since the run was drafted; null = none held meanwhile */
    approvalAbove: integer('approval_above'),
    approvedAt: moment('approved_at'),
    approvedBy: text('approved_by'),
    sentAt: moment('sent_at'),
    sentBy: text('sent_by'),
    settledAt: moment('settled_at'),
    promisedAt: moment('promised_at'),
    total: integer('total').notNull().default(0),
    payees: integer('payees').notNull().default(0),
    /** who began the step that the run is on its way through; null = it is not on its way */
    stepBy: text('step_by'),
    /** why an approval was taken back before it was through; null = it was not */
    notApproved: text('not_approved'),
    /** the payment file as sent; handed over at, when a bank connection took it */
    file: text('file'),
    deliveredAt: moment('delivered_at'),
    excluded: text('excluded', { mode: 'json' }).$type<string[]>().notNull().default([]),
    version: version(),
  },
  (t) => [check('runs_minimum', sql`${t.minimum} >= 0`)],
);

export const payments = sqliteTable(
  'payments',
  {
    id: id(),
    run: text('run')
      .notNull()
      .references(() => runs.id),
    affiliate: text('affiliate')
      .notNull()
      .references(() => affiliates.id),
    amount: integer('amount').notNull(),
    holder: text('holder').notNull(),
    iban: text('iban').notNull(),
    endToEnd: text('end_to_end').notNull().unique(),
    state: text('state', { enum: ['in-run', 'sent', 'settled', 'failed', 'returned'] }).notNull(),
    reason: text('reason'),
    stateSince: moment('state_since').notNull(),
  },
  (t) => [
    uniqueIndex('payments_once').on(t.run, t.affiliate),
    index('payments_affiliate').on(t.affiliate),
    check('payments_amount', sql`${t.amount} > 0`),
  ],
);

export const paymentItems = sqliteTable(
  'payment_items',
  {
    payment: text('payment')
      .notNull()
      .references(() => payments.id),
    commission: text('commission')
      .notNull()
      .references(() => commissions.id),
    amount: integer('amount').notNull(),
  },
  (t) => [primaryKey({ columns: [t.payment, t.commission] })],
);

/** Status reports that were read, so that a second reading changes nothing. */
export const statusReports = sqliteTable('status_reports', {
  id: id(),
  name: text('name').notNull(),
  at: moment('at').notNull(),
  by: text('by').notNull(),
  content: text('content').notNull(),
  lines: integer('lines').notNull(),
});

/** Outbox and record of every message. */
export const messages = sqliteTable(
  'messages',
  {
    id: id(),
    at: moment('at').notNull(),
    to: text('to_address').notNull(),
    affiliate: text('affiliate'),
    kind: text('kind').notNull(),
    subject: text('subject').notNull(),
    body: text('body').notNull(),
    state: text('state', { enum: ['waiting', 'sent', 'bounced'] })
      .notNull()
      .default('waiting'),
    fault: text('fault'),
    /** machine time from which it may leave: the time for taking a decision back */
    leavesAt: moment('leaves_at').notNull(),
    subjectOf: text('subject_of'),
    /** where in the body a link to set a password goes when it leaves; null = nowhere. A number, so that no word of the body can ask for one */
    linkAt: integer('link_at'),
    /** whose password the link sets, and how long it is good, where that is not the welcome of the affiliate it is sent to */
    link: text('link', { mode: 'json' }).$type<{
      kind: 'staff' | 'affiliate';
      person: string;
      use: 'welcome' | 'forgotten';
    } | null>(),
    /** tries that failed for now, and the machine time of the first */
    tries: integer('tries').notNull().default(0),
    triedAt: moment('tried_at'),
  },
  (t) => [
    index('messages_state').on(t.state, t.leavesAt),
    index('messages_subject').on(t.subjectOf),
    index('messages_to').on(t.to, t.at),
    index('messages_affiliate').on(t.affiliate, t.at),
  ],
);

export const audit = sqliteTable(
  'audit',
  {
    id: id(),
    at: moment('at').notNull(),
    by: text('by').notNull(),
    action: text('action').notNull(),
    subject: text('subject').notNull(),
    before: text('before', { mode: 'json' }),
    after: text('after', { mode: 'json' }),
  },
  (t) => [
    index('audit_subject').on(t.subject, t.at),
    index('audit_at').on(t.at, t.id),
    index('audit_affiliate').on(sql`json_extract(${t.after}, '$.affiliate')`, t.at),
  ],
);

/** Answers kept for repeated keys. */
export const answers = sqliteTable(
  'answers',
  {
    key: text('key').notNull(),
    actor: text('actor').notNull(),
    call: text('call').notNull(),
    bodyHash: text('body_hash').notNull(),
    status: integer('status').notNull(),
    body: text('body').notNull(),
    at: moment('at').notNull(),
  },
  (t) => [primaryKey({ columns: [t.key, t.actor, t.call] })],
);

export const rateDays = sqliteTable(
  'rate_days',
  {
    currency: text('currency').notNull(),
    day: text('day').notNull(),
    rateMicros: integer('rate_micros').notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.currency, t.day] }),
    check('rate_days_positive', sql`${t.rateMicros} > 0`),
  ],
);

export * from './applications';
export * from './terms';
export * from './prospects';
export * from './schema-programme';
export * from './roster';
export * from './totals';
