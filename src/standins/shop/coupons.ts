import type { Express } from 'express';
import { parseAmount } from '../../core/money/amount';
import { isCurrency } from '../../core/money/currency';
import { parsePercent, percentOf } from '../../core/money/percent';
import { escape, page } from '../html';
import type { StandinDb } from '../store';

/** A code that the shop knows: what it takes off, and whether it is taken at present. */
export interface ShopCoupon {
  code: string;
  /** “10 %” or “5.00”, in the currency of what is bought */
  off: string;
  refused: number;
}

/** What became of a code that a buyer typed. */
export type Tried =
  { state: 'none' } | { state: 'taken'; code: string; off: number } | { state: 'refused'; code: string };

const find = (db: StandinDb, code: string) =>
  db.prepare('SELECT * FROM coupons WHERE code = ?').get(code) as ShopCoupon | undefined;

/** How much a code takes off an amount, minor units; 0 where its words say no amount. */
function offOf({ off }: ShopCoupon, total: number, currency: string): number {
  if (off.includes('%')) {
    const read = parsePercent(off);
    return read.ok ? percentOf(total, read.value) : 0;
  }
  const read = isCurrency(currency) ? parseAmount(off, currency) : null;
  return read?.ok ? Math.min(total, read.value) : 0;
}

/** Tries a code on an amount. */
export function tryCoupon(db: StandinDb, typed: string, total: number, currency: string): Tried {
  const code = typed.trim().toUpperCase();
  if (code === '') return { state: 'none' };
  const known = find(db, code);
  if (!known || known.refused) return { state: 'refused', code };
  return { state: 'taken', code, off: offOf(known, total, currency) };
}

/** What a link handed over, in words. */
export function couponNote(db: StandinDb, typed: string): string {
  const code = typed.trim().toUpperCase();
  if (code === '') return '';
  const known = find(db, code);
  return known && !known.refused
    ? `<p class="note">${escape(code)} is applied: ${escape(known.off)} off.</p>`
    : `<p class="note">${escape(code)} is not taken here.</p>`;
}

/** Puts codes on the shop's list. */
export function keepCoupons(db: StandinDb, list: readonly Omit<ShopCoupon, 'refused'>[]): void {
  for (const { code, off } of list)
    db.prepare('INSERT OR REPLACE INTO coupons (code, off, refused) VALUES (?, ?, 0)').run(code, off);
}

const row = ({ code, off, refused }: ShopCoupon) =>
  `<tr><td>${escape(code)}<td>${escape(off)} off<td>${refused ? 'refused' : 'taken'}<td><form method="post" action="/coupons/${escape(code)}"><button class="q">${refused ? 'Take it again' : 'Refuse it'}</button></form></tr>`;

const form =
  '<form class="line" method="post" action="/coupons"><label>Code <input name="code" required></label><label>Takes off <input name="off" required placeholder="10 % or 5.00"></label><button>Put on the list</button></form>';

/** The codes that the shop knows: put on its list, refused, taken again. */
export function couponPages(server: Express, db: StandinDb): void {
  server.get('/coupons', (_req, res) => {
    const known = db.prepare('SELECT * FROM coupons ORDER BY code').all() as ShopCoupon[];
    res.send(
      page('Shop', 'Coupons', `<table>${known.map(row).join('')}</table><h2>Another code</h2>${form}`),
    );
  });
  server.post('/coupons', (req, res) => {
    const { code = '', off = '' } = req.body as Record<string, string>;
    if (code.trim() && (parsePercent(off).ok || parseAmount(off, 'EUR').ok))
      keepCoupons(db, [{ code: code.trim().toUpperCase(), off: off.trim() }]);
    res.redirect(303, '/coupons');
  });
  server.post('/coupons/:code', (req, res) => {
    db.prepare('UPDATE coupons SET refused = 1 - refused WHERE code = ?').run(req.params.code);
    res.redirect(303, '/coupons');
  });
}
