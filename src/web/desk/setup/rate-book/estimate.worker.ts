import { buildBook } from '../../../../core/terms/book';
import { asIfAlways, type Change, type TermsData } from '../../../../core/terms/draft';
import { buildRoll } from '../../../../core/terms/members';
import { rehearsal, type PastOrder } from '../../../../core/terms/rehearse';

/** Replays the last lines under a draft, beside the page: the same function as the rehearsal in full. */
export interface EstimateIn {
  id: number;
  base: string;
  changes: Change[];
  load?: { orders: PastOrder[]; terms: TermsData };
}
export interface EstimateOut {
  id: number;
  lines: number;
  difference: number;
  changed: number;
}

let kept: EstimateIn['load'];

self.onmessage = ({ data }: MessageEvent<EstimateIn>) => {
  if (data.load) kept = data.load;
  if (!kept) return;
  const terms = asIfAlways(kept.terms, data.changes);
  const run = rehearsal(buildBook(terms.rates), buildRoll(terms), data.base);
  for (const order of kept.orders) run.take(order);
  const { total, changed } = run.result();
  const out: EstimateOut = {
    id: data.id,
    lines: total.lines,
    difference: total.drafted - total.stored,
    changed,
  };
  self.postMessage(out);
};
