import { type ShareKind } from '../track/crediting/shares';

export const shareNames: Record<ShareKind, string> = {
  referral: 'referral share',
  'co-owner': 'co-owner share',
};
