import { useState } from 'react';
import { toast } from 'sonner';
import type { ReplyOf } from '../../../../contract/endpoint';
import { createRule, editRule } from '../../../../contract/recruit/screening';
import { useAct } from '../../../kit/act';
import { Refused } from '../../../kit/api';
import { shown, useBegun, type Begun } from '../../../kit/begun';
import { Button } from '../../../kit/button';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { Labelled } from '../../../kit/labelled';
import { Note } from '../../../kit/note';
import { type Rule } from './rule';

type Conditions = Rule['conditions'];
type Outcome = Rule['outcome'];
const field = 'mt-1 w-full rounded-sm border border-rule bg-sheet px-2 py-[5px] font-normal text-ink';
const number = (text: string) => (text.trim() === '' ? undefined : Number(text));
const codes = (text: string) => {
  const list = text
    .toUpperCase()
    .split(/[^A-Z]+/)
    .filter(Boolean);
  return list.length ? list : undefined;
};
const yesNo = (text: string) => (text === '' ? undefined : text === 'yes');
const yesOrNo = (value: boolean | undefined) => (value === undefined ? '' : value ? 'yes' : 'no');
const figureIn = (value: number | undefined) => (value === undefined ? '' : String(value));

/** What the form holds: every condition as it is typed, and what follows. */
interface Typed extends Record<string, unknown> {
  clearedLeast: string;
  refundsMost: string;
  standingLeast: string;
  tenureLeast: string;
  countryIn: string;
  countryNotIn: string;
  note: string;
  original: string;
  vouched: string;
  products: string[];
  then: 'after-hold' | 'at-sale' | 'decline' | 'person';
  reason: string;
  on: boolean;
}
const titles: Record<string, string> = {
  clearedLeast: 'Cleared sales, at least',
  refundsMost: 'Refund rate, at most %',
  standingLeast: 'Standing, at least',
  tenureLeast: 'Days as an affiliate',
  countryIn: 'Country is one of',
  countryNotIn: 'Country is none of',
  note: 'Note',
  original: 'Note compared with others',
  vouched: 'Registry',
  products: 'Only for',
  then: 'Then',
  reason: 'Reason',
  on: 'On',
};

function typedOf(rule: Rule | null): Typed {
  const c: Conditions = rule?.conditions ?? {};
  const outcome: Outcome = rule?.outcome ?? { do: 'approve', timing: 'after-hold' };
  return {
    clearedLeast: figureIn(c.clearedLeast),
    refundsMost: c.refundsMost ?? '',
    standingLeast: figureIn(c.standingLeast),
    tenureLeast: figureIn(c.tenureLeast),
    countryIn: (c.countryIn ?? []).join(', '),
    countryNotIn: (c.countryNotIn ?? []).join(', '),
    note: yesOrNo(c.note),
    original: yesOrNo(c.original),
    vouched: yesOrNo(c.vouched),
    products: c.products ?? [],
    then: outcome.do === 'approve' ? (outcome.timing ?? 'after-hold') : outcome.do,
    reason: outcome.reason ?? '',
    on: rule?.on ?? false,
  };
}

function bodyOf(t: Typed): { conditions: Conditions; outcome: Outcome } {
  const conditions = Object.fromEntries(
    Object.entries({
      clearedLeast: number(t.clearedLeast),
      refundsMost: t.refundsMost.trim() || undefined,
      standingLeast: number(t.standingLeast),
      tenureLeast: number(t.tenureLeast),
      countryIn: codes(t.countryIn),
      countryNotIn: codes(t.countryNotIn),
      note: yesNo(t.note),
      original: yesNo(t.original),
      vouched: yesNo(t.vouched),
      products: t.products.length ? t.products : undefined,
    }).filter(([, v]) => v !== undefined),
  ) as Conditions;
  return {
    conditions,
    outcome:
      t.then === 'decline'
        ? { do: 'decline', reason: t.reason }
        : t.then === 'person'
          ? { do: 'person' }
          : { do: 'approve', timing: t.then },
  };
}

/** A rule: what must hold, all of it, and what follows. */
export function RuleForm({
  rule,
  products,
  onClose,
}: {
  rule: Rule | null;
  products: { id: string; name: string }[];
  onClose: () => void;
}) {
  const named = (value: unknown, of: string) =>
    of === 'products'
      ? shown((value as string[]).map((id) => products.find((p) => p.id === id)?.name ?? id))
      : shown(value);
  const base = useBegun<Typed>(
    { values: typedOf(rule), version: rule?.version ?? 0 },
    (of) => titles[of] ?? of,
    named,
  );
  const [typed, setTyped] = useState(base.begun.values);
  const put = (of: string, value: unknown) => setTyped((all) => ({ ...all, [of]: value }));
  const [fault, setFault] = useState<Record<string, string>>({});
  const read = (current: unknown): Begun<Typed> => {
    const now = (current as ReplyOf<typeof editRule>).rules.find((r) => r.id === rule?.id) ?? null;
    return { values: typedOf(now), version: now?.version ?? 0 };
  };
  const options = {
    done: () => {
      onClose();
      toast(rule ? 'Saved' : 'Added at the end, switched off: rehearse it, then switch it on');
    },
    failed: (f: unknown) => {
      if (base.overtake(f, read, typed, put)) return;
      setFault(
        f instanceof Refused
          ? Object.fromEntries(
              (f.problem.errors.length ? f.problem.errors : [{ pointer: '/', detail: f.problem.detail }]).map(
                (e) => [e.pointer.replace(/^\/(conditions\/|outcome\/)?/, '').split('/')[0] ?? '', e.detail],
              ),
            )
          : { '': 'It was not saved; what you typed is kept.' },
      );
    },
  };
  const make = useAct(createRule, options);
  const edit = useAct(editRule, options);
  const save = () => {
    setFault({});
    if (rule)
      edit.mutate({
        params: { id: rule.id },
        body: { ...bodyOf(typed), on: typed.on, version: base.begun.version },
      });
    else make.mutate({ body: bodyOf(typed) });
  };
  const at = (name: string) =>
    fault[name] ? (
      <span role="alert" className="block font-normal text-madder">
        {fault[name]}
      </span>
    ) : null;
  const general = Object.entries(fault)
    .filter(
      ([k]) =>
        ![
          'clearedLeast',
          'refundsMost',
          'standingLeast',
          'tenureLeast',
          'countryIn',
          'countryNotIn',
          'note',
          'original',
          'products',
          'reason',
        ].includes(k),
    )
    .map(([, v]) => v);
  const figure = (name: keyof Typed & string, example: string) => (
    <Labelled>
      {titles[name]}
      <input
        inputMode="decimal"
        value={String(typed[name])}
        onChange={(e) => put(name, e.target.value)}
        placeholder={example}
        aria-invalid={fault[name] ? true : undefined}
        className={field}
      />
      {at(name)}
    </Labelled>
  );
  const choice = (name: keyof Typed & string, yes: string, no: string) => (
    <Labelled>
      {titles[name]}
      <select value={String(typed[name])} onChange={(e) => put(name, e.target.value)} className={field}>
        <option value="">does not matter</option>
        <option value="yes">{yes}</option>
        <option value="no">{no}</option>
      </select>
      {at(name)}
    </Labelled>
  );
  return (
    <Dialog
      open
      onClose={onClose}
      wide
      title={rule ? 'Change the rule' : 'New rule'}
      about="Everything that is filled in must hold; what is empty does not matter."
    >
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          save();
        }}
      >
        {base.note(put)}
        {general.length > 0 && (
          <Note tone="refused" role="alert">
            {general.join('; ')}
          </Note>
        )}
        <div className="grid grid-cols-4 gap-3">
          {figure('clearedLeast', '50')}
          {figure('refundsMost', '8')}
          {figure('standingLeast', '60')}
          {figure('tenureLeast', '365')}
        </div>
        <div className="grid grid-cols-2 gap-3">
          {figure('countryIn', 'PT, ES, FR')}
          {figure('countryNotIn', 'CY')}
          {choice('note', 'there is one', 'there is none')}
          {choice('original', 'like no other', 'nearly the same as another, or missing')}
          {choice('vouched', 'vouches for the applicant', 'does not vouch for the applicant')}
        </div>
        <fieldset>
          <legend className="font-semibold text-ink2">Only for</legend>
          <div className="mt-1 flex flex-wrap gap-x-4 gap-y-1">
            {products.map((p) => (
              <label key={p.id} className="flex items-center gap-1">
                <input
                  type="checkbox"
                  checked={typed.products.includes(p.id)}
                  onChange={(e) =>
                    put(
                      'products',
                      e.target.checked ? [...typed.products, p.id] : typed.products.filter((x) => x !== p.id),
                    )
                  }
                />{' '}
                {p.name}
              </label>
            ))}
          </div>
          {at('products')}
        </fieldset>
        <div className="grid grid-cols-[220px_1fr] items-start gap-3">
          <Labelled>
            Then
            <select value={typed.then} onChange={(e) => put('then', e.target.value)} className={field}>
              <option value="after-hold">approve, after hold</option>
              <option value="at-sale">approve, at sale</option>
              <option value="decline">decline</option>
              <option value="person">leave it to a person</option>
            </select>
          </Labelled>
          {typed.then === 'decline' && (
            <Labelled>
              Reason, which the applicant reads
              <input
                value={typed.reason}
                maxLength={500}
                onChange={(e) => put('reason', e.target.value)}
                placeholder="We are looking for people with a site of their own"
                className={field}
              />
              {at('reason')}
            </Labelled>
          )}
        </div>
        <DialogFoot>
          <Button onClick={onClose}>Leave it</Button>
          <Button type="submit" look="main" busy={make.isPending || edit.isPending}>
            {rule ? 'Save' : 'Add the rule'}
          </Button>
        </DialogFoot>
      </form>
    </Dialog>
  );
}
