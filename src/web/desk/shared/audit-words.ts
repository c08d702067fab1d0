import { formatMoney } from '../../../core/money/amount';
import { formatPercent } from '../../../core/money/percent';
import { counted } from '../../../core/text/counted';

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
  'sale-corrected-by-report': 'Confirmed sale changed by its signed report',
  'sale-set-aside': 'Unconfirmed sale set aside',
  'status-refused': 'Status report refused',
  'affiliate-moved': 'State changed',
  'product-moved': 'State changed',
  'timing-changed': 'Payment timing changed',
  'payout-details-changed': 'Payout details changed',
  'password-set': 'Password set',
  'exchange-set': 'Exchange rate set',
  'clock-moved': 'Demo clock moved on',
  'feeds-renewed': 'Addresses of feeds made anew',
  'change-planned': 'A change planned',
  'plan-undone': 'A planned change taken back',
  'plan-dropped': 'A planned change that was not possible any more',
  'profile-changed': 'Own profile changed',
};

/** What an audit entry says was done. */
export function actionWords(action: string): string {
  const plain = action.replaceAll('-', ' ');
  return actions[action] ?? plain[0]!.toUpperCase() + plain.slice(1);
}

/** How values of the programme are written. */
export interface Written {
  base: string;
  moment: (at: number) => string;
}

const amounts = new Set(['total', 'minimum', 'minimumPayout', 'approvalAbove', 'price']);
const moments = new Set(['from', 'until', 'launchAt']);
const audiences: Record<string, string> = {
  everybody: 'everybody',
  group: 'a group',
  tag: 'a tag',
  segment: 'a segment',
};

type Fields = Record<string, unknown>;

function objectWords(value: object, base: string): string {
  const reward = value as { type?: string; ppm?: number; amount?: number };
  if (reward.type === 'percent' && reward.ppm !== undefined) return formatPercent(reward.ppm);
  if (reward.type?.startsWith('flat') && reward.amount !== undefined)
    return formatMoney({ amount: reward.amount, currency: base });
  const audience = value as { kind?: string; affiliates?: string[] };
  if (audience.affiliates) return counted(audience.affiliates.length, 'affiliate');
  if (audience.kind && audience.kind in audiences) return audiences[audience.kind]!;
  return Array.isArray(value) ? value.join(', ').slice(0, 80) : JSON.stringify(value).slice(0, 80);
}

function valueWords(field: string, value: unknown, { base, moment }: Written): string {
  if (value === null || value === undefined || value === '') return '—';
  if (typeof value === 'number' && amounts.has(field)) return formatMoney({ amount: value, currency: base });
  if (typeof value === 'number' && moments.has(field)) return moment(value);
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  return typeof value === 'object' ? objectWords(value, base) : String(value as string | number).slice(0, 60);
}

/** The words of a creative are fields of their own, as its form shows them. */
const opened = ({ texts, ...fields }: Fields): Fields => ({ ...fields, ...(texts as Fields | undefined) });

const sameValue = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

/** What is beside the point: whom it was about, from when a rate is, what is as empty as it was. */
function isBeside(field: string, old: Fields, now: Fields): boolean {
  const isEmpty = now[field] === null || now[field] === '';
  return (
    field === 'affiliate' ||
    (field === 'from' && !('from' in old)) ||
    (isEmpty && (old[field] ?? null) === null) ||
    (field in old && sameValue(old[field], now[field]))
  );
}

/** What changed, from what to what. */
export function changeWords(before: unknown, after: unknown, written: Written): string {
  const old = opened((before ?? {}) as Fields);
  const now = opened((after ?? {}) as Fields);
  const words = (field: string, value: unknown) => valueWords(field, value, written);
  return Object.keys(now)
    .filter((field) => !isBeside(field, old, now))
    .map((field) =>
      field in old
        ? `${field}: ${words(field, old[field])} → ${words(field, now[field])}`
        : `${field}: ${words(field, now[field])}`,
    )
    .join(', ');
}
