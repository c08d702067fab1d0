import { Link } from 'react-router';
import type { ReplyOf } from '../../../contract/endpoint';
import type { readApplication } from '../../../contract/recruiting';
import { Facts, Margin } from '../../kit/place';
import { State } from '../../kit/state';
import { Day, Moment, Share, Sums } from '../../kit/text';

export type ApplicationView = ReplyOf<typeof readApplication>;

export function ApplicationSheet({ of }: { of: ApplicationView }) {
  return (
    <section className="min-w-0 flex-1 overflow-auto bg-sheet px-[22px] py-[18px]" tabIndex={0} aria-label={`Application of ${of.name}`}>
      <div className="flex items-start justify-between gap-4">
        <div className="min-w-0"><h1 className="break-words">{of.name}</h1><div className="text-ink2">wants to promote <b className="text-ink">{of.product?.name ?? 'the whole programme'}</b> · applied <Moment at={of.createdAt} /></div></div>
        <State is={of.state} word={of.state === 'waiting' ? 'waiting on you' : of.state} />
      </div>
      <Facts rows={[
        ['Sites', of.sites.join(', ')], ['Promotes by', of.channels || '—'], ['Country', of.country], ['Address', of.address || '—'], ['E-mail', of.email],
        ['Affiliate', <><Link className="link" to={`/affiliates/${of.affiliate}`}>{of.evidence.tenure === 'not an affiliate yet' ? 'not yet one' : `for ${of.evidence.tenure}`}</Link> · {of.evidence.earlier.length ? `${of.evidence.earlier.length} earlier` : 'never applied here before'}</>],
        ...(of.decidedAt ? [['Decided', <><Moment at={of.decidedAt} />, by {of.decidedBy}{of.timing ? `, ${of.timing === 'at-sale' ? 'at sale' : 'after hold'}` : ''}{of.reason ? `: ${of.reason}` : ''}</>] as [string, React.ReactNode]] : []),
      ]} />
      <h2>Note</h2>
      <p dir="auto" className="mt-2 max-w-[66ch] font-serif text-[14.5px] leading-[1.55] break-words whitespace-pre-wrap">{of.note || <span className="text-ink3">No note.</span>}</p>
      <div className="mt-4 border-y border-rule py-[10px] text-ink2"><b className="text-ink">If approved:</b> {of.ifApproved} {of.atSaleRisk}</div>
    </section>
  );
}

export function EvidenceMargin({ of }: { of: ApplicationView }) {
  const e = of.evidence;
  return (
    <Margin>
      <h2>Evidence</h2>
      <div className="mt-1"><Sums rows={[{ label: 'Cleared sales', figure: e.cleared }, { label: 'Tenure', figure: e.tenure }]} /></div>
      <h2 className="mt-4">Refunds</h2>
      {e.sales === 0 ? <p className="mt-1 text-ink2">No record yet: no sale of theirs has passed its refund window.</p> : (
        <div className="mt-1"><Sums rows={[
          { label: 'Refunded of sold', figure: `${e.refunds} of ${e.sales}` }, { label: 'Shrunk towards 5 % (weight 40)', figure: `(${e.refunds}+2) ÷ ${e.sales + 40}` },
          { label: 'Refund rate', figure: <span className={e.aboveLine ? 'text-madder' : ''}><Share ppm={e.refundRate} /></span>, weight: 'sum' },
        ]} /></div>
      )}
      {e.aboveLine && <p className="mt-2 text-madder">Above your line of 12 %.</p>}
      <h2 className="mt-4">Earlier applications</h2>
      {e.earlier.length === 0 ? <p className="mt-1 text-ink2">None.</p> : <ul>{e.earlier.map((x, i) => <li key={i} className="flex justify-between border-b border-dotted border-rule py-1"><span><Day at={x.at} /> · {x.product ?? 'whole programme'}</span><State is={x.state} /></li>)}</ul>}
    </Margin>
  );
}
