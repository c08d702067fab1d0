import { toDecimal } from '../../src/core/money/amount';
import type { Act } from './acts';
import type { Money, Stage } from './stage';

interface Run {
  id: string;
  state: string;
  version: number;
  total: Money;
  payments: { id: string; name: string; amount: Money; state: string }[];
}

const shown = (m: Money) => `${toDecimal(m.amount, m.currency)} ${m.currency}`;

interface BankFile {
  id: string;
  lines: { endToEnd: string; amount: string }[];
}
const filesAtBank = async (stage: Stage) => (await stage.shop.get<BankFile[]>('/bank/files.json')).body;

async function pays(stage: Stage): Promise<void> {
  const { desk } = stage;
  const draft = await desk.post<Run>('/api/v1/payouts', { cutoff: await stage.today(), minimum: '25.00' });
  stage.check(
    'proposed',
    draft.body.payments.map((p) => `${p.name} ${shown(p.amount)}`).join(', '),
    'Loam Letters 59.64 EUR',
  );
  const approved = await desk.post<Run>(`/api/v1/payouts/${draft.body.id}/approve`, {
    version: draft.body.version,
    total: draft.body.total.amount,
  });
  stage.check('approved', `${approved.body.state} ${shown(approved.body.total)}`, 'approved 59.64 EUR');
  await stage.checkBalances('0.00', '0.00', '59.64', '0.00');
  const sent = await desk.post<Run>(`/api/v1/payouts/${draft.body.id}/send`, {
    version: approved.body.version,
  });
  stage.check('sent', sent.body.state, 'sent');
  stage.check(
    'sent twice',
    (await desk.post(`/api/v1/payouts/${draft.body.id}/send`, { version: approved.body.version })).status,
    409,
  );
  const file = await desk.get(`/api/v1/payouts/${draft.body.id}/file.xml`);
  stage.check('file’s sum', /<CtrlSum>([\d.]+)<\/CtrlSum>/.exec(file.text)?.[1], '59.64');
  await desk.post(`/api/v1/payouts/${draft.body.id}/deliver`, { version: sent.body.version });
  await desk.post(`/api/v1/payouts/${draft.body.id}/deliver`, { version: sent.body.version });
  const files = await filesAtBank(stage);
  stage.check('files at the bank', files.length, 1);
  stage.check('the bank’s line', files[0]?.lines.map((l) => l.amount).join(), '59.64');
}

async function bankRejects(stage: Stage): Promise<void> {
  const { desk, shop } = stage;
  const file = (await filesAtBank(stage))[0]!;
  await shop.form(`/bank/files/${file.id}/answer`, { [file.lines[0]!.endToEnd]: 'AC04' });
  stage.check('read', (await desk.post('/api/v1/payouts/collect')).body.said, '1 line read: 1 failed');
  stage.check(
    'read again',
    (await desk.post('/api/v1/payouts/collect')).body.said,
    'The bank has no new status report',
  );
  await stage.checkBalances('0.00', '59.64', '0.00', '0.00');
}

async function paysAgain(stage: Stage): Promise<void> {
  const { desk, shop, portal } = stage;
  const again = await desk.post<Run>('/api/v1/payouts', { cutoff: await stage.today(), minimum: '25.00' });
  const steps = await desk.post<Run>(`/api/v1/payouts/${again.body.id}/approve`, {
    version: again.body.version,
    total: again.body.total.amount,
  });
  const gone = await desk.post<Run>(`/api/v1/payouts/${again.body.id}/send`, { version: steps.body.version });
  await desk.post(`/api/v1/payouts/${again.body.id}/deliver`, { version: gone.body.version });
  const newest = (await filesAtBank(stage)).at(-1)!;
  await shop.form(`/bank/files/${newest.id}/answer`, {});
  stage.check('read', (await desk.post('/api/v1/payouts/collect')).body.said, '1 line read: 1 settled');
  await stage.checkBalances('0.00', '0.00', '0.00', '59.64');
  const settled = await desk.get<Run>(`/api/v1/payouts/${again.body.id}`);
  stage.check('run', settled.body.state, 'settled');
  const csv = await portal.get(`/api/v1/portal/payments/${settled.body.payments[0]!.id}/statement.csv`);
  const amounts = csv.text
    .trim()
    .split('\r\n')
    .slice(1)
    .map((l) => l.split(',')[4]);
  stage.check('statement', amounts.join(' + '), '23.88 + 35.76 + 59.64');
}

async function refundsPaid(stage: Stage): Promise<void> {
  const { desk, shop } = stage;
  await shop.form(`/orders/${stage.orders[0]}/refund`, { amount: '', kind: 'refund' });
  // the whole 23.88 is taken back after payment: the balance falls below zero
  await stage.checkBalances('0.00', '-23.88', '0.00', '59.64');
  const third = await stage.buy('WHEEL-1', 3);
  stage.check('third order', third, 'Q-10003');
  await stage.forward('month');
  // 12 % of 597.00 = 71.64; 71.64 − 23.88 = 47.76
  await stage.checkBalances('0.00', '47.76', '0.00', '59.64');
  const netted = await desk.post<Run>('/api/v1/payouts', { cutoff: await stage.today(), minimum: '25.00' });
  stage.check('proposed, netted', netted.body.payments.map((p) => shown(p.amount)).join(), '47.76 EUR');
}

async function balances(stage: Stage): Promise<void> {
  const { desk } = stage;
  const ledger = await desk.get<{ whole: boolean; accounts: { account: string; balance: Money }[] }>(
    '/api/v1/ledger',
  );
  stage.check('balances', ledger.body.whole, true);
  // granted 23.88 + 47.76 + 71.64 = 143.28, taken back 12.00 + 23.88: expense 107.40 = cleared 47.76 + bank 59.64
  stage.check(
    'expense · cleared · bank',
    ['expense', 'cleared', 'bank']
      .map((a) => toDecimal(ledger.body.accounts.find((x) => x.account === a)!.balance.amount, 'EUR'))
      .join(' · '),
    '107.40 · 47.76 · 59.64',
  );
}

export const paying: readonly Act[] = [
  ['Payout run', pays],
  ['Rejected line', bankRejects],
  ['Second run', paysAgain],
  ['Refund, paid', refundsPaid],
  ['Ledger', balances],
];
