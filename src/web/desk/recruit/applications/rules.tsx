import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { toast } from 'sonner';
import {
  createRule,
  editRule,
  listRules,
  orderRules,
  readRuleRehearsal,
  removeRule,
  startRuleRehearsal,
} from '../../../../contract/recruit/screening';
import { useAct } from '../../../kit/act';
import { asking } from '../../../kit/asking';
import { Button } from '../../../kit/button';
import { useKeys } from '../../../kit/keys';
import { Empty, Failed, Heading, Skeleton } from '../../../kit/place';
import { Small } from '../../../kit/text';
import { useMay } from '../../roles';
import { type Rule, type Rules } from './rule';
import { RuleForm } from './rule-form';
import { RuleRehearsal } from './rule-rehearsal';

/** Screening rules in order, each a sentence; and what they would have done with the past. */
export default function RulesPage() {
  const rules = useQuery(asking(listRules));
  if (rules.isPending) return <Skeleton />;
  if (rules.error) return <Failed fault={rules.error} retry={() => void rules.refetch()} />;
  return <RulesInOrder of={rules.data} />;
}

function RulesInOrder({ of: { rules: list, products, practices } }: { of: Rules }) {
  const may = useMay();
  const navigate = useNavigate();
  const [editing, setEditing] = useState<Rule | 'new' | null>(null);
  const [dragged, setDragged] = useState<number | null>(null);
  const queries = useQueryClient();
  const start = useAct(startRuleRehearsal, {
    done: (r) => queries.setQueryData(asking(readRuleRehearsal).queryKey, r),
  });
  const order = useAct(orderRules);
  const mayEdit = may(createRule);
  const canRehearse = may(startRuleRehearsal) && list.length > 0;
  const keys = useKeys([
    ...(mayEdit ? [{ key: 'n', what: 'a new rule', act: () => setEditing('new') }] : []),
    ...(canRehearse ? [{ key: 'r', what: 'rehearse the rules', act: () => start.mutate({}) }] : []),
    { key: 'Escape', what: 'back to the applications', act: () => void navigate('/applications') },
  ]);
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
        whole programme where all are: <Screened screened={screened} />. What none decides waits for a person.
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
              <RuleItem
                key={r.id}
                rule={r}
                index={i}
                last={list.length - 1}
                mayEdit={mayEdit}
                dragged={dragged}
                onDrag={setDragged}
                move={move}
                onChange={() => setEditing(r)}
              />
            ))}
          </ol>
        )}
        {list.length > 0 && <RuleRehearsal />}
      </div>
      {editing && (
        <RuleForm
          rule={editing === 'new' ? null : editing}
          products={products}
          practices={practices}
          onClose={() => setEditing(null)}
        />
      )}
      {keys}
    </section>
  );
}

/** The products whose affiliates are screened. */
function Screened({ screened }: { screened: { id: string; name: string; screened: boolean }[] }) {
  if (screened.length)
    return screened.map((p, i) => (
      <span key={p.id}>
        {i > 0 && ', '}
        <Link className="link" to={`/products/${p.id}`}>
          {p.name}
        </Link>
      </span>
    ));
  return (
    <>
      none yet, which is set on the{' '}
      <Link className="link-lined" to="/products">
        product
      </Link>
    </>
  );
}

interface ItemProps {
  rule: Rule;
  index: number;
  last: number;
  mayEdit: boolean;
  /** the rule that is being dragged, by its place */
  dragged: number | null;
  onDrag: (index: number | null) => void;
  move: (from: number, by: number) => void;
  onChange: () => void;
}

/** One rule in its order, with its acts. */
function RuleItem({ dragged, onDrag, ...item }: ItemProps) {
  const { rule, index, mayEdit, move } = item;
  return (
    <li
      draggable={mayEdit}
      onDragStart={() => onDrag(index)}
      onDragOver={(e) => e.preventDefault()}
      onDrop={() => {
        if (dragged !== null && dragged !== index) move(dragged, index - dragged);
        onDrag(null);
      }}
      className={`flex items-baseline gap-3 border-b border-rule2 py-2 ${dragged === index ? 'bg-copper-wash' : ''}`}
    >
      <span aria-hidden className="cursor-grab text-ink3">
        {mayEdit ? '⠿' : ''}
      </span>
      <span className="w-5 text-ink3">{index + 1}</span>
      <span className={`min-w-0 flex-1 ${rule.on ? '' : 'text-ink3'}`}>
        {rule.sentence}
        <Small below>
          {rule.on ? 'on' : 'off'},{' '}
          {rule.decided === 0 ? 'has decided nothing yet' : `has decided ${rule.decided}`}
        </Small>
      </span>
      {mayEdit && <RuleActs {...item} />}
    </li>
  );
}

function RuleActs({ rule, index, last, move, onChange }: Omit<ItemProps, 'dragged' | 'onDrag'>) {
  const edit = useAct(editRule, { done: () => toast('Saved') });
  const remove = useAct(removeRule, { done: () => toast('Removed; what it decided stays') });
  const { conditions, outcome, version } = rule;
  const n = index + 1;
  return (
    <span className="flex shrink-0 items-center gap-1">
      <label className="flex items-center gap-1">
        <input
          type="checkbox"
          checked={rule.on}
          onChange={(e) =>
            edit.mutate({
              params: { id: rule.id },
              body: { conditions, outcome, on: e.target.checked, version },
            })
          }
          aria-label={`Rule ${n} on`}
        />{' '}
        on
      </label>
      <Button look="bare" aria-label={`Rule ${n} up`} disabled={index === 0} onClick={() => move(index, -1)}>
        ↑
      </Button>
      <Button
        look="bare"
        aria-label={`Rule ${n} down`}
        disabled={index === last}
        onClick={() => move(index, 1)}
      >
        ↓
      </Button>
      <Button look="bare" aria-label={`Change rule ${n}`} onClick={onChange}>
        change
      </Button>
      <Button
        look="bare"
        aria-label={`Remove rule ${n}`}
        onClick={() => remove.mutate({ params: { id: rule.id } })}
      >
        remove
      </Button>
    </span>
  );
}
