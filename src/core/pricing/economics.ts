import { percentOf } from '../money/percent';
import type { Pay } from '../terms/rate';

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
  const commission = reward.type === 'percent' ? percentOf(price, reward.ppm) : Math.min(price, reward.amount);
  return {
    price, commission, left: price - commission,
    per100Clicks: conversion === null ? null : percentOf(commission * 100, conversion),
  };
}

/** A row of what one sale leaves, minor units: positive what comes in, negative what goes. */
export interface MarginRow {
  label: 'price' | 'fees' | 'refunds' | 'commission' | 'left';
  amount: number;
}

/**
 * One sale as a column of sums: price, payment fees, what refunds take on average, commission, what is left before the cost of goods.
 * A refunded sale gives its price back and takes its commission back; fees are not given back.
 * @param price minor units @param costs fees in parts per million of the price and fixed, refunds in parts per million of sales
 */
export function marginOf(price: number, commission: number, costs: { feePpm: number; feeFixed: number; refundPpm: number }): MarginRow[] {
  const fees = percentOf(price, costs.feePpm) + (price > 0 ? costs.feeFixed : 0);
  const refunds = percentOf(price, costs.refundPpm);
  const paid = commission - percentOf(commission, costs.refundPpm);
  return [
    { label: 'price', amount: price }, { label: 'fees', amount: -fees }, { label: 'refunds', amount: -refunds }, { label: 'commission', amount: -paid }, { label: 'left', amount: price - fees - refunds - paid },
  ];
}
