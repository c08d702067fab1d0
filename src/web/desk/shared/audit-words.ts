import { formatMoney } from '../../../core/money/amount';
import { formatPercent } from '../../../core/money/percent';

const actions: Record<string, string> = {
  'run-drafted': 'Payout run drafted',
  'run-approved': 'Payout run approved',
  'run-not-approved': 'Approval of a payout run taken back',
  'run-sent': 'Payout run sent',
  'run-settled': 'Payout run settled',
  'run-reopened': 'Payout run taken back to draft',
  'run-discarded': 'Payout run discarded',
  'payee-left-out': 'Payee left out',
  'payee-taken-in': 'Payee taken in again',
  'status-read': 'Status report read',
  'rate-changed': 'Commission changed',
  'key-created': 'Key made',
  'key-shown': 'Secret of a key shown',
  'pictures-on': 'Pictures switched on for a key',
  'pictures-off': 'Pictures switched off for a key',
  'sale-confirmed': 'Unconfirmed sale confirmed',
  'sale-set-aside': 'Unconfirmed sale set aside',
  'status-refused': 'Status report refused',
  'affiliate-moved': 'State changed',
  'product-moved': 'State changed',
  'timing-changed': 'Payment timing changed',
  'payout-details-changed': 'Payout details changed',
  'password-set': 'Password set',
  'exchange-set': 'Exchange rate set',
  'clock-moved': 'Demo clock moved on',
};

/** What an audit entry says was done. */
export function actionWords(action: string): string {
  const plain = action.replaceAll('-', ' ');
  return actions[action] ?? plain[0]!.toUpperCase() + plain.slice(1);
}

const amounts = new Set(['total', 'minimum', 'minimumPayout', 'approvalAbove', 'price']);

function valueWords(field: string, value: unknown, base: string): string {
  if (amounts.has(field) && typeof value === 'number') return formatMoney({ amount: value, currency: base });
  if (value === null || value === undefined || value === '') return '—';
  if (typeof value === 'object') {
    const reward = value as { type?: string; ppm?: number; amount?: number };
    if (reward.type === 'percent' && reward.ppm !== undefined) return formatPercent(reward.ppm);
    if (reward.type?.startsWith('flat') && reward.amount !== undefined)
      return formatMoney({ amount: reward.amount, currency: base });
    return JSON.stringify(value).slice(0, 80);
  }
  return String(value).slice(0, 60);
}

/** What changed, from what to what. */
export function changeWords(before: unknown, after: unknown, base: string): string {
  const old = (before ?? {}) as Record<string, unknown>;
  const now = (after ?? {}) as Record<string, unknown>;
  return Object.keys(now)
    .filter(
      (k) =>
        k !== 'affiliate' &&
        k !== 'from' &&
        !((now[k] === null || now[k] === '') && (old[k] ?? null) === null),
    )
    .map((k) =>
      k in old
        ? `${k}: ${valueWords(k, old[k], base)} → ${valueWords(k, now[k], base)}`
        : `${k}: ${valueWords(k, now[k], base)}`,
    )
    .join(', ');
}
