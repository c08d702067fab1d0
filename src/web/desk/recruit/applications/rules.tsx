import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { toast } from 'sonner';
import {
  createRule,
  editRule,
  listRules,
  orderRules,
  removeRule,
  startRuleRehearsal,
} from '../../../../contract/recruit/screening';
import { useAct } from '../../../kit/act';
import { call } from '../../../kit/api';
import { Button } from '../../../kit/button';
import { useKeys } from '../../../kit/keys';
import { Empty, Failed, Heading, Skeleton } from '../../../kit/place';
import { useMay } from '../../roles';
import { type Rule } from './rule';
import { RuleForm } from './rule-form';
import { rehearsalKey, RuleRehearsal } from './rule-rehearsal';

/** Screening rules in order, each a sentence; and what they would have done with the past. */
export default function RulesPage() {
  const may = useMay();
  const navigate = useNavigate();
  const rules = useQuery({ queryKey: ['screening'], queryFn: () => call(listRules) });
  const [editing, setEditing] = useState<Rule | 'new' | null>(null);
  const [dragged, setDragged] = useState<number | null>(null);
  const queries = useQueryClient();
  const start = useAct(startRuleRehearsal, { done: (r) => queries.setQueryData(rehearsalKey, r) });
  const order = useAct(orderRules);
  const edit = useAct(editRule, { done: () => toast('Saved') });
  const remove = useAct(removeRule, { done: () => toast('Removed; what it decided stays') });
  const canRehearse = may(startRuleRehearsal) && (rules.data?.rules.length ?? 0) > 0;
  const keys = useKeys([
    ...(may(createRule) ? [{ key: 'n', what: 'a new rule', act: () => setEditing('new') }] : []),
    ...(canRehearse ? [{ key: 'r', what: 'rehearse the rules', act: () => start.mutate({}) }] : []),
    { key: 'Escape', what: 'back to the applications', act: () => void navigate('/applications') },
  ]);
  if (rules.isPending) return <Skeleton />;
  if (rules.error) return <Failed fault={rules.error} retry={() => void rules.refetch()} />;
  const { rules: list, products } = rules.data;
  const mayEdit = may(createRule);
  const screened = products.filter((p) => p.screened);
  const move = (from: number, by: number) => {
    const ids = list.map((r) => r.id);
    const [id] = ids.splice(from, 1);
    ids.splice(from + by, 0, id!);
    order.mutate({ body: { ids } });
  };
  return (
    <section className="min-h-0 flex-1 overflow-auto bg-sheet pb-8" tabIndex={0} aria-label="Screening">
      <Heading
        title="Screening rules"
        acts={
          <>
            {canRehearse && (
              <Button keyName="R" busy={start.isPending} onClick={() => start.mutate({})}>
                Rehearse
              </Button>
            )}
            {mayEdit && (
              <Button look="main" keyName="N" onClick={() => setEditing('new')}>
                New rule
              </Button>
            )}
          </>
        }
      >
        The first that applies decides, in this order, for products whose affiliates are screened, and for the
        whole programme where all are:{' '}
        {screened.length ? (
          screened.map((p, i) => (
            <span key={p.id}>
              {i > 0 && ', '}
              <Link className="link" to={`/products/${p.id}`}>
                {p.name}
              </Link>
            </span>
          ))
        ) : (
          <>
            none yet, which is set on the{' '}
            <Link className="link underline" to="/products">
              product
            </Link>
          </>
        )}
        . What none decides waits for a person.
      </Heading>
      <div className="max-w-[860px] px-5">
        {list.length === 0 ? (
          <Empty title="No rule yet">
            Let rules decide the clear cases: who has a record, who copied a note. Each can be rehearsed over
            past applications before it counts.
          </Empty>
        ) : (
          <ol aria-label="Rules in order">
            {list.map((r, i) => (
              <li
                key={r.id}
                draggable={mayEdit}
                onDragStart={() => setDragged(i)}
                onDragOver={(e) => e.preventDefault()}
                onDrop={() => {
                  if (dragged !== null && dragged !== i) move(dragged, i - dragged);
                  setDragged(null);
                }}
                className={`flex items-baseline gap-3 border-b border-rule2 py-2 ${dragged === i ? 'bg-copper-wash' : ''}`}
              >
                <span aria-hidden className="cursor-grab text-ink3">
                  {mayEdit ? '⠿' : ''}
                </span>
                <span className="w-5 text-ink3">{i + 1}</span>
                <span className={`min-w-0 flex-1 ${r.on ? '' : 'text-ink3'}`}>
                  {r.sentence}
                  <span className="block text-[12px] text-ink3">
                    {r.on ? 'on' : 'off'},{' '}
                    {r.decided === 0 ? 'has decided nothing yet' : `has decided ${r.decided}`}
                  </span>
                </span>
                {mayEdit && (
                  <span className="flex shrink-0 items-center gap-1">
                    <label className="flex items-center gap-1">
                      <input
                        type="checkbox"
                        checked={r.on}
                        onChange={(e) =>
                          edit.mutate({
                            params: { id: r.id },
                            body: {
                              conditions: r.conditions,
                              outcome: r.outcome,
                              on: e.target.checked,
                              version: r.version,
                            },
                          })
                        }
                        aria-label={`Rule ${i + 1} on`}
                      />{' '}
                      on
                    </label>
                    <Button
                      look="bare"
                      aria-label={`Rule ${i + 1} up`}
                      disabled={i === 0}
                      onClick={() => move(i, -1)}
                    >
                      ↑
                    </Button>
                    <Button
                      look="bare"
                      aria-label={`Rule ${i + 1} down`}
                      disabled={i === list.length - 1}
                      onClick={() => move(i, 1)}
                    >
                      ↓
                    </Button>
                    <Button look="bare" aria-label={`Change rule ${i + 1}`} onClick={() => setEditing(r)}>
                      change
                    </Button>
                    <Button
                      look="bare"
                      aria-label={`Remove rule ${i + 1}`}
                      onClick={() => remove.mutate({ params: { id: r.id } })}
                    >
                      remove
                    </Button>
                  </span>
                )}
              </li>
            ))}
          </ol>
        )}
        {list.length > 0 && <RuleRehearsal />}
      </div>
      {editing && (
        <RuleForm
          rule={editing === 'new' ? null : editing}
          products={products}
          onClose={() => setEditing(null)}
        />
      )}
      {keys}
    </section>
  );
}
