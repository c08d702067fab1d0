import { useState } from 'react';
import { type ReplyOf } from '../../../../../contract/endpoint';
import {
  historyRows,
  listHistory,
  type HistoryRow,
  type readAffiliate,
} from '../../../../../contract/recruit/affiliates';
import { DottedItem } from '../../../../kit/dotted';
import { under, useList } from '../../../../kit/lists';
import { Failed } from '../../../../kit/place';
import { useProgramme } from '../../../../kit/programme';
import { Moment } from '../../../../kit/text';
import { actionWords, changeWords } from '../../../shared/audit-words';

type Affiliate = ReplyOf<typeof readAffiliate>;

/** What was done to an affiliate, newest first: the first of it comes with the record, the rest by pages. */
export function History({ affiliate }: { affiliate: Affiliate }) {
  const [all, setAll] = useState(false);
  if (all) return <Whole affiliate={affiliate} />;
  return (
    <>
      <Rows rows={affiliate.history} currency={affiliate.balances.held.currency} />
      {affiliate.history.length === historyRows && (
        <button type="button" className="link mt-2" onClick={() => setAll(true)}>
          show what was before
        </button>
      )}
    </>
  );
}

function Whole({ affiliate }: { affiliate: Affiliate }) {
  const list = useList(under(listHistory, affiliate.id), {}, 2 * historyRows);
  if (list.failed) return <Failed fault={list.failed} retry={list.again} />;
  return (
    <>
      <Rows
        rows={list.rows.length ? list.rows : affiliate.history}
        currency={affiliate.balances.held.currency}
      />
      {list.onEnd && (
        <button type="button" className="link mt-2" onClick={list.onEnd}>
          show what was before
        </button>
      )}
    </>
  );
}

function Rows({ rows, currency }: { rows: HistoryRow[]; currency: string }) {
  const { moment } = useProgramme();
  return (
    <ul>
      {rows.map((h) => (
        <DottedItem key={h.id} className="grid grid-cols-[130px_1fr] gap-2">
          <span className="text-ink3">
            <Moment at={h.at} />
          </span>
          <span>
            {actionWords(h.action)}{' '}
            <span className="private text-ink3">
              {changeWords(h.before, h.after, { base: currency, moment })} · {h.by}
            </span>
          </span>
        </DottedItem>
      ))}
    </ul>
  );
}
