import { sql } from 'drizzle-orm';
import { index, integer, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core';
import { timings } from '../../../core/ledger/timing';
import { affiliateStates } from '../../../core/recruiting/states';
import type { Id } from '../../../core/text/id';
import { products } from './catalogue';
import { id, moment, version } from './columns';

export const affiliates = sqliteTable(
  'affiliates',
  {
    id: id<'affiliate'>(),
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
    state: text('state', { enum: affiliateStates }).notNull().default('applied'),
    /** since when it is blocked; null = it is not, or that is not known */
    blockedAt: moment('blocked_at'),
    timing: text('timing', { enum: timings }).notNull().default('after-hold'),
    password: text('password'),
    payeeHolder: text('payee_holder').notNull().default(''),
    payeeIban: text('payee_iban').notNull().default(''),
    payeeAddress: text('payee_address').notNull().default(''),
    createdAt: moment('created_at').notNull(),
    joinedAt: moment('joined_at'),
    version: version(),
    /** false for a partner in a product who promotes nothing; who brought an applicant in, until it joins */
    promotes: integer('promotes', { mode: 'boolean' }).notNull().default(true),
    broughtBy: text('brought_by').$type<Id<'affiliate'>>(),
    /** kind of partner; who of the staff looks after it; false: wants no newsletters; what its mailbox last said where a message bounced */
    kind: text('kind').notNull().default(''),
    lookedAfter: text('looked_after').$type<Id<'staff'>>(),
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
    id: id<'approval'>(),
    affiliate: text('affiliate')
      .$type<Id<'affiliate'>>()
      .notNull()
      .references(() => affiliates.id),
    product: text('product')
      .$type<Id<'product'>>()
      .references(() => products.id),
    timing: text('timing', { enum: timings }).notNull(),
    from: moment('valid_from').notNull(),
    until: moment('valid_until'),
  },
  (t) => [index('approvals_affiliate').on(t.affiliate)],
);

/**
 * Tracking links. An affiliate has one of each product it may promote from the moment of approval; of a creative, a coupon or a page
 * one is made the first time it is shown or copied.
 */
export const links = sqliteTable(
  'links',
  {
    code: text('code').primaryKey(),
    affiliate: text('affiliate')
      .$type<Id<'affiliate'>>()
      .notNull()
      .references(() => affiliates.id),
    /** of a creative for the whole programme there is none */
    product: text('product')
      .$type<Id<'product'>>()
      .references(() => products.id),
    creative: text('creative').$type<Id<'creative'>>(),
    coupon: text('coupon').$type<Id<'coupon'>>(),
    /** address of a page on a listed host, chosen by the affiliate */
    page: text('page'),
    createdAt: moment('created_at').notNull(),
  },
  (t) => [
    uniqueIndex('links_product')
      .on(t.affiliate, t.product)
      .where(sql`creative IS NULL AND coupon IS NULL AND page IS NULL`),
    uniqueIndex('links_creative')
      .on(t.affiliate, t.creative)
      .where(sql`creative IS NOT NULL`),
    uniqueIndex('links_coupon')
      .on(t.affiliate, t.coupon)
      .where(sql`coupon IS NOT NULL`),
    uniqueIndex('links_page')
      .on(t.affiliate, t.product, t.page)
      .where(sql`page IS NOT NULL`),
  ],
);
