import type { Act } from './acts';
import type { Stage } from './stage';

async function sells(stage: Stage): Promise<void> {
  const { shop } = stage;
  const first = await stage.buy('WHEEL-1', 1);
  stage.check('answered', /"outcome":"recorded"|&#34;recorded&#34;/.test(await stage.answered(first)), true);
  // 12 % of 199.00 = 23.88
  await stage.checkBalances('23.88', '0.00', '0.00', '0.00');
  await shop.form('/switches', { 'shop-twice': 'on' });
  const second = await stage.buy('WHEEL-1', 2);
  await shop.form('/switches', {});
  // 12 % of 398.00 = 47.76, reported twice, counted once: 23.88 + 47.76
  await stage.checkBalances('71.64', '0.00', '0.00', '0.00');
  stage.check('the repeat was', /already-recorded/.test(await stage.answered(second)), true);
}

async function refundsHeld(stage: Stage): Promise<void> {
  const { shop } = stage;
  await shop.form(`/orders/${stage.orders[1]}/refund`, { amount: '100.00', kind: 'refund' });
  // 12 % of 298.00 = 35.76, so 12.00 is taken back: 71.64 − 12.00
  await stage.checkBalances('59.64', '0.00', '0.00', '0.00');
}

async function clears(stage: Stage): Promise<void> {
  stage.check('cleared in a week', await stage.forward('week'), 0);
  stage.check('cleared in two more', (await stage.forward('week')) + (await stage.forward('week')), 2);
  await stage.checkBalances('0.00', '59.64', '0.00', '0.00');
}

export const selling: readonly Act[] = [
  ['Sale', sells],
  ['Refund, held', refundsHeld],
  ['Clearing', clears],
];
