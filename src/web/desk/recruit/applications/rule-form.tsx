import { useState } from 'react';
import { toast } from 'sonner';
import type { ReplyOf } from '../../../../contract/endpoint';
import { createRule, editRule } from '../../../../contract/recruit/screening';
import { useAct } from '../../../kit/act';
import { shown, useBegun, type Begun } from '../../../kit/begun';
import { Button } from '../../../kit/button';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { TextLine } from '../../../kit/inputs';
import { Labelled } from '../../../kit/labelled';
import { Pair } from '../../../kit/layout';
import { Note } from '../../../kit/note';
import { SelectField } from '../../../kit/select';
import { Ticks } from '../../../kit/ticks';
import { type Rule } from './rule';
import { bodyOf, faultsByField, titles, typedOf, type Typed } from './rule-typed';

interface Props {
  rule: Rule | null;
  products: { id: string; name: string }[];
  practices: { key: string; name: string }[];
  onClose: () => void;
}

type Faults = Record<string, string>;

/** What is typed of a rule, the faults of it, what others changed meanwhile, and saving it. */
function useRuleForm({ rule, products, practices, onClose }: Props) {
  const names: Record<string, (id: string) => string | undefined> = {
    products: (id) => products.find((p) => p.id === id)?.name,
    uses: (key) => practices.find((p) => p.key === key)?.name,
  };
  const named = (value: unknown, field: string) => {
    const name = names[field];
    return name ? shown((value as string[]).map((id) => name(id) ?? id)) : shown(value);
  };
  const base = useBegun<Typed>(
    { values: typedOf(rule), version: rule?.version ?? 0 },
    (field) => titles[field] ?? field,
    named,
  );
  const [typed, setTyped] = useState(base.begun.values);
  const put = (field: string, value: unknown) => setTyped((all) => ({ ...all, [field]: value }));
  const [faults, setFaults] = useState<Faults>({});
  const read = (current: unknown): Begun<Typed> => {
    const now = (current as ReplyOf<typeof editRule>).rules.find((r) => r.id === rule?.id) ?? null;
    return { values: typedOf(now), version: now?.version ?? 0 };
  };
  const options = {
    done: () => {
      onClose();
      toast(rule ? 'Saved' : 'Added at the end, switched off: rehearse it, then switch it on');
    },
    failed: (thrown: unknown) => {
      if (!base.overtake(thrown, read, typed, put)) setFaults(faultsByField(thrown));
    },
  };
  const make = useAct(createRule, options);
  const edit = useAct(editRule, options);
  const save = () => {
    setFaults({});
    const body = bodyOf(typed);
    if (rule)
      edit.mutate({
        params: { id: rule.id },
        body: { ...body, on: typed.on, version: base.begun.version },
      });
    else make.mutate({ body });
  };
  return { typed, put, faults, save, busy: make.isPending || edit.isPending, note: base.note(put) };
}

type RuleTyped = Pick<ReturnType<typeof useRuleForm>, 'typed' | 'put' | 'faults'>;

/** A rule: what must hold, all of it, and what follows. */
export function RuleForm(props: Props) {
  const { rule, products, practices, onClose } = props;
  const { save, busy, note, ...form } = useRuleForm(props);
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
        {note}
        <General faults={form.faults} />
        <Conditions {...form} products={products} practices={practices} />
        <Outcome {...form} />
        <DialogFoot>
          <Button onClick={onClose}>Leave it</Button>
          <Button type="submit" look="main" busy={busy}>
            {rule ? 'Save' : 'Add the rule'}
          </Button>
        </DialogFoot>
      </form>
    </Dialog>
  );
}

const placed = [
  'clearedLeast',
  'refundsMost',
  'standingLeast',
  'tenureLeast',
  'countryIn',
  'countryNotIn',
  'note',
  'original',
  'products',
  'uses',
  'reason',
];

/** What belongs to no field. */
function General({ faults }: { faults: Faults }) {
  const said = Object.entries(faults).filter(([field]) => !placed.includes(field));
  if (!said.length) return null;
  return (
    <Note tone="refused" role="alert">
      {said.map(([, words]) => words).join('; ')}
    </Note>
  );
}

function Fault({ said }: { said: string | undefined }) {
  if (!said) return null;
  return (
    <span role="alert" className="block font-normal text-madder">
      {said}
    </span>
  );
}

type TextName =
  'clearedLeast' | 'refundsMost' | 'standingLeast' | 'tenureLeast' | 'countryIn' | 'countryNotIn';

function Figure({ name, example, typed, put, faults }: RuleTyped & { name: TextName; example: string }) {
  return (
    <Labelled>
      {titles[name]}
      <TextLine
        inputMode="decimal"
        value={typed[name]}
        onText={(text) => put(name, text)}
        placeholder={example}
        aria-invalid={faults[name] ? true : undefined}
        className="mt-1"
      />
      <Fault said={faults[name]} />
    </Labelled>
  );
}

function YesOrNo({
  name,
  yes,
  no,
  typed,
  put,
  faults,
}: RuleTyped & { name: 'note' | 'original' | 'vouched' | 'welcome'; yes: string; no: string }) {
  return (
    <div>
      <SelectField
        label={titles[name] ?? name}
        value={typed[name]}
        options={[
          ['', 'does not matter'],
          ['yes', yes],
          ['no', no],
        ]}
        onPick={(value) => put(name, value)}
      />
      <Fault said={faults[name]} />
    </div>
  );
}

function Conditions({ products, practices, ...form }: RuleTyped & Pick<Props, 'products' | 'practices'>) {
  const { typed, put, faults } = form;
  return (
    <>
      <div className="grid grid-cols-4 gap-3">
        <Figure {...form} name="clearedLeast" example="50" />
        <Figure {...form} name="refundsMost" example="8" />
        <Figure {...form} name="standingLeast" example="60" />
        <Figure {...form} name="tenureLeast" example="365" />
      </div>
      <Pair>
        <Figure {...form} name="countryIn" example="PT, ES, FR" />
        <Figure {...form} name="countryNotIn" example="CY" />
        <YesOrNo {...form} name="note" yes="there is one" no="there is none" />
        <YesOrNo {...form} name="original" yes="like no other" no="nearly the same as another, or missing" />
        <YesOrNo
          {...form}
          name="vouched"
          yes="vouches for the applicant"
          no="does not vouch for the applicant"
        />
        <YesOrNo
          {...form}
          name="welcome"
          yes="all that it means to use is welcome"
          no="something is asked first or not here"
        />
      </Pair>
      <div>
        <Ticks
          legend="Only for"
          options={products.map((p) => [p.id, p.name] as const)}
          ticked={typed.products}
          onChange={(ticked) => put('products', ticked)}
        />
        <Fault said={faults.products} />
      </div>
      {practices.length > 0 && (
        <div>
          <Ticks
            legend="Means to use one of"
            options={practices.map((p) => [p.key, p.name] as const)}
            ticked={typed.uses}
            onChange={(ticked) => put('uses', ticked)}
          />
          <Fault said={faults.uses} />
        </div>
      )}
    </>
  );
}

const outcomes = [
  ['after-hold', 'approve, after hold'],
  ['at-sale', 'approve, at sale'],
  ['decline', 'decline'],
  ['person', 'leave it to a person'],
] as const;

function Outcome({ typed, put, faults }: RuleTyped) {
  return (
    <div className="grid grid-cols-[220px_1fr] items-start gap-3">
      <SelectField label="Then" value={typed.then} options={outcomes} onPick={(then) => put('then', then)} />
      {typed.then === 'decline' && (
        <Labelled>
          Reason, which the applicant reads
          <TextLine
            value={typed.reason}
            maxLength={500}
            onText={(reason) => put('reason', reason)}
            placeholder="We are looking for people with a site of their own"
            className="mt-1"
          />
          <Fault said={faults.reason} />
        </Labelled>
      )}
    </div>
  );
}
