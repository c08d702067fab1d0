import { percentOf } from '../money/percent';
import type { ShareBase } from '../terms/lists';
import type { Pay } from '../terms/rate';
import { coOwnerShares, referralShare } from '../terms/shares';

export interface SaleEconomics {
  price: number;
  /** what an affiliate earns from one sale */
  commission: number;
  /** what is left to the merchant before cost of goods */
  left: number;
  /** what an affiliate earns from 100 clicks at the given conversion; null without one */
  per100Clicks: number | null;
}

/** What refunds after payment would cost in 100 sales. @param commission of one sale, minor units @param refundRate parts per million */
export function lossIn100Sales(commission: number, refundRate: number): number {
  return percentOf(commission * 100, refundRate);
}

/**
 * What one sale at this price earns an affiliate and leaves the merchant.
 * @param price minor units @param conversion orders ÷ clicks in parts per million, if known
 */
export function saleEconomics(price: number, reward: Pay, conversion: number | null): SaleEconomics {
  const commission =
    reward.type === 'percent' ? percentOf(price, reward.ppm) : Math.min(price, reward.amount);
  return {
    price,
    commission,
    left: price - commission,
    per100Clicks: conversion === null ? null : percentOf(commission * 100, conversion),
  };
}

/** What of a price is paid after the usual discount. @param price minor units @param discountPpm parts per million that discounts take off on average */
export function usuallyPaid(price: number, discountPpm: number): number {
  return price - percentOf(price, discountPpm);
}

/** The rows of what a sale leaves, in the order in which they are read. */
export const marginLabels = [
  'price',
  'discount',
  'fees',
  'refunds',
  'commission',
  'referral',
  'co-owners',
  'left',
] as const;

/** A row of what one sale leaves, minor units: positive what comes in, negative what goes. */
export interface MarginRow {
  label: (typeof marginLabels)[number];
  amount: number;
}

/** What is promised on a sale: the reward, the share of the one who brought the affiliate in, the co-owners' parts per million. */
export interface SalePromises {
  pay: Pay | null;
  referral: { ppm: number; of: ShareBase } | null;
  owners: readonly number[];
}

/** What a sale costs beside: fees in parts per million of what is paid and fixed, discounts of the price, refunds of sales. */
export interface SaleCosts {
  feePpm: number;
  feeFixed: number;
  refundPpm: number;
  discountPpm: number;
}

const optional: ReadonlySet<MarginRow['label']> = new Set(['discount', 'referral', 'co-owners']);

/**
 * One sale as a column of sums: price, what discounts and refunds take on average, payment fees, commission, referral share,
 * co-owner shares, what is left before the cost of goods. A refunded sale gives its price back and takes commission and shares
 * back; fees are not given back. Rows that come to nothing are left out, but for price, fees, refunds and commission.
 * @param price minor units
 */
export function marginOf(price: number, promises: SalePromises, costs: SaleCosts): MarginRow[] {
  const paid = usuallyPaid(price, costs.discountPpm);
  const fees = percentOf(paid, costs.feePpm) + (paid > 0 ? costs.feeFixed : 0);
  // a lead has no value and pays all the same
  const commission =
    promises.pay === null
      ? 0
      : price === 0 && promises.pay.type !== 'percent'
        ? promises.pay.amount
        : saleEconomics(paid, promises.pay, null).commission;
  const referral =
    promises.referral === null || commission === 0 ? 0 : referralShare(paid, commission, promises.referral);
  const owners = coOwnerShares(paid, commission, referral, promises.owners).reduce((a, b) => a + b, 0);
  const kept = (amount: number) => amount - percentOf(amount, costs.refundPpm);
  const rows: MarginRow[] = [
    { label: 'price', amount: price },
    { label: 'discount', amount: paid - price },
    { label: 'fees', amount: -fees },
    { label: 'refunds', amount: -percentOf(paid, costs.refundPpm) },
    { label: 'commission', amount: -kept(commission) },
    { label: 'referral', amount: -kept(referral) },
    { label: 'co-owners', amount: -kept(owners) },
  ];
  return [
    ...rows.filter((r) => r.amount !== 0 || !optional.has(r.label)),
    { label: 'left', amount: rows.reduce((sum, r) => sum + r.amount, 0) },
  ];
}

/** A column of a follow-on offer, and how often it is taken: parts per million of the purchases that open the funnel. */
export interface FollowOn {
  takenPpm: number;
  rows: readonly MarginRow[];
}

/** One sale with what the offers after it bring on average, label by label; each offer's part is rounded by itself. */
export function marginDown(opening: readonly MarginRow[], offers: readonly FollowOn[]): MarginRow[] {
  const sums = new Map<MarginRow['label'], number>(opening.map((r) => [r.label, r.amount]));
  for (const { takenPpm, rows } of offers) {
    for (const r of rows)
      if (r.label !== 'left') sums.set(r.label, (sums.get(r.label) ?? 0) + percentOf(r.amount, takenPpm));
  }
  sums.delete('left');
  const left = [...sums.values()].reduce((a, b) => a + b, 0);
  return [
    ...marginLabels.flatMap((label): MarginRow[] =>
      sums.has(label) ? [{ label, amount: sums.get(label)! }] : [],
    ),
    { label: 'left', amount: left },
  ];
}
