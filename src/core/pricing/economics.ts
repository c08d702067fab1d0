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
