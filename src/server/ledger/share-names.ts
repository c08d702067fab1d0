import { type Share } from '../../core/terms/shares';

export const shareNames: Record<ShareKind, string> = {
  referral: 'referral share',
  'co-owner': 'co-owner share',
};

export type ShareKind = Share['kind'];
