import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { toast } from 'sonner';
import type { ReplyOf } from '../../../contract/endpoint';
import { createRule, editRule, listRules, orderRules, rehearseRules, removeRule } from '../../../contract/screening';
import { call } from '../../kit/api';
import { useAct } from '../../kit/act';
import { Button } from '../../kit/button';
import { useKeys } from '../../kit/keys';
import { Empty, Failed, Heading, Skeleton } from '../../kit/place';
import { Day } from '../../kit/text';
import { useMay } from '../roles';
import { RuleForm } from './rule-form';

type Rules = ReplyOf<typeof listRules>;
export type Rule = Rules['rules'][number];

/** Screening rules in order, each a sentence; and what they would have done with the past. */
export default function RulesPage() {
  const may = useMay();
  const navigate = useNavigate();
  const rules = useQuery({ queryKey: ['screening'], queryFn: () => call(listRules) });
  const [editing, setEditing] = useState<Rule | 'new' | null>(null);
  const [rehearsing, setRehearsing] = useState(false);
  const [dragged, setDragged] = useState<number | null>(null);
  const order = useAct(orderRules);
  const edit = useAct(editRule, { done: () => toast('Saved') });
  const remove = useAct(removeRule, { done: () => toast('Removed; what it decided stays') });
  const keys = useKeys([{ key: 'n', what: 'a new rule', act: () => { if (may(createRule)) setEditing('new'); } }, { key: 'r', what: 'rehearse the rules', act: () => setRehearsing(true) }, { key: 'Escape', what: 'back to the applications', act: () => void navigate('/applications') }]);
  if (rules.isPending) return <Skeleton />;
  if (rules.error) return <Failed fault={rules.error} retry={() => void rules.refetch()} />;
  const { rules: list, products } = rules.data;
  const mayEdit = may(createRule);
  const screened = products.filter((p) => p.screened);
  const move = (from: number, by: number) => { const ids = list.map((r) => r.id); const [id] = ids.splice(from, 1); ids.splice(from + by, 0, id!); order.mutate({ body: { ids } }); };
  return (
    <section className="min-h-0 flex-1 overflow-auto bg-sheet pb-8" tabIndex={0} aria-label="Screening">
      <Heading title="Screening rules" acts={<>{list.length > 0 && <Button keyName="R" onClick={() => setRehearsing(true)}>Rehearse</Button>}{mayEdit && <Button look="main" keyName="N" onClick={() => setEditing('new')}>New rule</Button>}</>}>
        The first that applies decides, in this order, for products whose affiliates are screened, and for the whole programme where all are: {screened.length ? screened.map((p, i) => <span key={p.id}>{i > 0 && ', '}<Link className="link" to={`/products/${p.id}`}>{p.name}</Link></span>) : <>none yet, which is set on the <Link className="link underline" to="/products">product</Link></>}. What none decides waits for a person.
      </Heading>
      <div className="max-w-[860px] px-5">
        {list.length === 0 ? <Empty title="No rule yet">Let rules decide the clear cases: who has a record, who copied a note. Each can be rehearsed over past applications before it counts.</Empty> : (
          <ol aria-label="Rules in order">{list.map((r, i) => (
            <li key={r.id} draggable={mayEdit} onDragStart={() => setDragged(i)} onDragOver={(e) => e.preventDefault()} onDrop={() => { if (dragged !== null && dragged !== i) move(dragged, i - dragged); setDragged(null); }} className={`flex items-baseline gap-3 border-b border-rule2 py-2 ${dragged === i ? 'bg-copper-wash' : ''}`}>
              <span aria-hidden className="cursor-grab text-ink3">{mayEdit ? '⠿' : ''}</span><span className="w-5 text-ink3">{i + 1}</span>
              <span className={`min-w-0 flex-1 ${r.on ? '' : 'text-ink3'}`}>{r.sentence}<span className="block text-[12px] text-ink3">{r.on ? 'on' : 'off'}, {r.decided === 0 ? 'has decided nothing yet' : `has decided ${r.decided}`}</span></span>
              {mayEdit && <span className="flex shrink-0 items-center gap-1">
                <label className="flex items-center gap-1"><input type="checkbox" checked={r.on} onChange={(e) => edit.mutate({ params: { id: r.id }, body: { conditions: r.conditions, outcome: r.outcome, on: e.target.checked, version: r.version } })} aria-label={`Rule ${i + 1} on`} /> on</label>
                <Button look="bare" aria-label={`Rule ${i + 1} up`} disabled={i === 0} onClick={() => move(i, -1)}>↑</Button><Button look="bare" aria-label={`Rule ${i + 1} down`} disabled={i === list.length - 1} onClick={() => move(i, 1)}>↓</Button>
                <Button look="bare" aria-label={`Change rule ${i + 1}`} onClick={() => setEditing(r)}>change</Button><Button look="bare" aria-label={`Remove rule ${i + 1}`} onClick={() => remove.mutate({ params: { id: r.id } })}>remove</Button>
              </span>}
            </li>))}</ol>
        )}
        {rehearsing && list.length > 0 && <Rehearsal key={list.map((r) => `${r.id}${r.version}`).join()} />}
      </div>
      {editing && <RuleForm rule={editing === 'new' ? null : editing} products={products} onClose={() => setEditing(null)} />}
      {keys}
    </section>
  );
}

const wouldWords: Record<string, string> = { approved: 'approved', declined: 'declined', person: 'left to a person' };

/** What the rules, as if all were on, would have done with past applications, beside how those turned out. */
function Rehearsal() {
  const found = useQuery({ queryKey: ['screening-rehearsal'], queryFn: () => call(rehearseRules) });
  if (found.isPending) return <Skeleton />;
  if (found.error) return <Failed fault={found.error} retry={() => void found.refetch()} />;
  const { rows, changes, applications, changesMost } = found.data;
  if (applications === 0) return <p className="mt-6 text-ink2">No application was decided yet, so there is nothing to rehearse on.</p>;
  return (
    <section className="mt-6" aria-label="Rehearsal">
      <h2>Rehearsal over {applications.toLocaleString('en-GB')} decided applications</h2>
      <p className="text-ink2">As if every rule were on, judged by what was known when each was made. Nothing is changed.</p>
      <div className="overflow-x-auto" tabIndex={0} role="region" aria-label="What each rule would have decided"><table className="table mt-2"><thead><tr><th>Rule</th><th className="figure">Would decide</th><th className="figure">Approved then</th><th className="figure">Declined then</th><th className="figure">Active now</th><th className="figure">Ended, paused</th><th className="figure">Blocked</th><th className="figure">Refunds of sales</th></tr></thead>
        <tbody>{rows.map((r, i) => <tr key={r.rule ?? 'none'}><td className="whitespace-normal!">{r.rule === null ? <span className="text-ink3">{r.sentence}</span> : <><span className="text-ink3">{i + 1}</span> {r.sentence}</>}</td><td className="figure font-semibold">{r.total}</td><td className="figure">{r.approved}</td><td className="figure">{r.declined}</td><td className="figure">{r.active}</td><td className="figure">{r.ended + r.paused}</td><td className={`figure ${r.blocked ? 'text-madder' : ''}`}>{r.blocked}</td><td className="figure">{r.sales ? `${r.refunds} of ${r.sales}` : '—'}</td></tr>)}</tbody></table></div>
      <h2 className="mt-5">Whose outcome would differ</h2>
      {changes.length === 0 ? <p className="text-ink2">Nobody’s: where a rule would have decided, a person decided the same.</p> : (
        <><table className="table mt-1"><thead><tr><th>Applied</th><th>Applicant</th><th>Was</th><th>Would be</th><th>Rule</th><th>Now</th><th className="figure">Refunds of sales</th></tr></thead>
          <tbody>{changes.map((c) => <tr key={c.application}><td><Day at={c.at} /></td><td><Link className="link private" to={`/applications/${c.application}?state=${c.decided}`}>{c.name}</Link></td><td>{c.decided}</td><td className="font-semibold">{wouldWords[c.would]}</td><td>{rows.findIndex((r) => r.rule === c.rule) + 1}</td><td>{c.now}</td><td className="figure">{c.sales ? `${c.refunds} of ${c.sales}` : '—'}</td></tr>)}</tbody></table>
        {changes.length === changesMost && <p className="mt-1 text-ink3">The newest {changesMost}.</p>}</>
      )}
    </section>
  );
}
