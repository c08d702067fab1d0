import type { Express } from 'express';
import { escape, page } from '../html';
import type { Gravenel } from './gravenel';
import type { Offer, Purchase, Records } from './records';
import { report } from './reports';

type Step = Offer['steps'][number];

/** Sells what was offered after a purchase, once. */
async function take(records: Records, gravenel: Gravenel, row: Purchase, step: Step): Promise<void> {
  const reference = `${row.reference}-${step.code}`;
  if (records.purchase(reference)) return;
  records.setMark('step', reference, step.code);
  if (records.mark('test', row.reference) === 'on') records.setMark('test', reference, 'on');
  records.add({
    reference,
    at: Date.now(),
    product: step.product,
    name: step.name,
    quantity: 1,
    amount: step.price,
    currency: step.currency,
    buyer: row.buyer,
    visit: row.visit,
    placed_at: await gravenel.today(),
    reports: '[]',
    picture: null,
    waiting: 0,
    refunds: '[]',
  });
  await report(records, gravenel, records.purchase(reference)!);
}

/** Follow-on offers: each that is taken is an order of its own, so that nothing is lost when somebody leaves half-way. */
export function followOnPages(server: Express, records: Records, gravenel: Gravenel): void {
  const found = async (reference: string, code: string) => {
    const row = records.purchase(reference);
    const offer = row ? await gravenel.offerOf(row.product) : null;
    const step = offer?.steps.find((s) => s.code === code);
    return row && step ? { row, step } : null;
  };
  server.get('/offers/:reference/:step', async (req, res) => {
    const { reference } = req.params;
    const here = await found(reference, req.params.step);
    if (!here) return res.redirect(303, `/orders/${encodeURIComponent(reference)}`);
    const { step } = here;
    return res.send(
      page(
        'Shop',
        `One more thing: ${step.name}`,
        `<p style="font-size:22px">${escape(step.price)} ${escape(step.currency)}</p><form class="line" method="post"><button name="answer" value="yes">Yes, add it</button> <button name="answer" value="no">No, thank you</button></form>`,
      ),
    );
  });
  server.post('/offers/:reference/:step', async (req, res) => {
    const here = await found(req.params.reference, req.params.step);
    if (!here) return res.redirect(303, '/');
    const { row, step } = here;
    const yes = (req.body as Record<string, string>).answer === 'yes';
    if (yes) await take(records, gravenel, row, step);
    const next = yes ? step.onYes : step.onNo;
    return res.redirect(303, next ? `/offers/${row.reference}/${next}` : `/orders/${row.reference}`);
  });
}
