import type { WaitingKind } from '../../core/figures/waiting';

export interface Place {
  to: string;
  name: string;
  heading?: string;
  count?: WaitingKind;
}

/** The places, in the order of the work. */
export const places: Place[] = [
  { to: '/', name: 'Today' },
  { to: '/products', name: 'Products', heading: 'Set up' },
  { to: '/rates', name: 'Rate book' },
  { to: '/policy', name: 'Policy', count: 'policy' },
  { to: '/offers', name: 'Offer pages', heading: 'Recruit', count: 'offers' },
  { to: '/prospects', name: 'Prospects' },
  { to: '/applications', name: 'Applications', count: 'applications' },
  { to: '/affiliates', name: 'Affiliates' },
  { to: '/creatives', name: 'Creatives', heading: 'Equip', count: 'requests' },
  { to: '/coupons', name: 'Coupons', count: 'coupons' },
  { to: '/sales', name: 'Sales', heading: 'Track', count: 'sales' },
  { to: '/connection', name: 'Connection', count: 'connection' },
  { to: '/ledger', name: 'Ledger', heading: 'Settle', count: 'clearing' },
  { to: '/payouts', name: 'Payouts', count: 'payouts' },
];
