import { listHistory } from '../../../contract/affiliates';
import type { ReplyOf } from '../../../contract/endpoint';
import type { readAffiliate } from '../../../contract/affiliates';
import { under, useList } from '../../kit/lists';
import { Moment } from '../../kit/text';
import { actionWords, changeWords } from '../staff/words';

/** What was done to an affiliate, newest first, fifty at a time. */
export function History({ of }: { of: ReplyOf<typeof readAffiliate> }) {
  const list = useList(under(listHistory, of.id), {}, 50);
  // the first of them came with the record
  const rows = list.rows.length ? list.rows : of.history;
  return (
    <>
      <ul>{rows.map((h) => (
        <li key={h.id} className="grid grid-cols-[130px_1fr] gap-2 border-b border-dotted border-rule py-1">
          <span className="text-ink3"><Moment at={h.at} /></span>
          <span>{actionWords(h.action)} <span className="private text-ink3">{changeWords(h.before, h.after, of.balances.held.currency)} · {h.by}</span></span>
        </li>
      ))}</ul>
      {list.onEnd && <button type="button" className="link mt-2" onClick={list.onEnd}>show what was before</button>}
    </>
  );
}
