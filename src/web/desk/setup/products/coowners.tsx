import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import type { ReplyOf } from '../../../../contract/endpoint';
import { addPartner, readCoOwners, setCoOwners } from '../../../../contract/setup/shares';
import { formatPercent, parsePercent } from '../../../../core/money/percent';
import type { Id } from '../../../../core/text/id';
import { useAct } from '../../../kit/act';
import { Refused } from '../../../kit/api';
import { asking } from '../../../kit/asking';
import { Button } from '../../../kit/button';
import { allCountries } from '../../../kit/countries';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { DottedItem } from '../../../kit/dotted';
import { FormFault } from '../../../kit/form';
import { Labelled } from '../../../kit/labelled';
import { Note, Said } from '../../../kit/note';
import { Pick } from '../../../kit/pick';
import { useProgramme } from '../../../kit/programme';
import { SelectField } from '../../../kit/select';
import { Day, End } from '../../../kit/text';
import { useMay } from '../../roles';
import { findAffiliates } from '../../shared/find-affiliates';

type View = ReplyOf<typeof readCoOwners>;

/** Partners in a product: who gets which part of what each of its sales leaves. */
export function CoOwners({ product, name }: { product: Id<'product'>; name: string }) {
  const may = useMay();
  const owners = useQuery(asking(readCoOwners, { params: { id: product } }));
  const [open, setOpen] = useState(false);
  if (!owners.data) return null;
  const { rows, coming, past } = owners.data;
  return (
    <div className="mt-5">
      <h2>
        Co-owners{' '}
        {may(setCoOwners) && (
          <Button look="bare" className="font-sans text-[13px]" onClick={() => setOpen(true)}>
            {rows.length ? 'change' : 'add'}
          </Button>
        )}
      </h2>
      {rows.length === 0 && <p className="text-ink2">None: what a sale leaves is yours.</p>}
      <ul>
        {rows.map((o) => (
          <DottedItem key={o.payee} className="grid grid-cols-[1fr_auto]">
            <span>
              <Link className="link" to={`/affiliates/${o.payee}`}>
                {o.name}
              </Link>{' '}
              <span className="text-ink3">
                since <Day at={o.from} />
                {o.until !== null && (
                  <>
                    , until <End at={o.until} />
                  </>
                )}
                {!o.detailsComplete && ', no payout details yet'}
              </span>
            </span>
            <b className="font-semibold">{o.percent} %</b>
          </DottedItem>
        ))}
      </ul>
      {coming.map((o) => (
        <Said key={o.name}>
          From <Day at={o.from} />: {o.name} {o.percent} %
        </Said>
      ))}
      {past.length > 0 && <Said faint>Before: {past.map((o) => `${o.name} ${o.percent} %`).join(', ')}</Said>}
      {open && <Change product={product} name={name} before={rows} onClose={() => setOpen(false)} />}
    </div>
  );
}

const inWords = (list: readonly { name: string; percent: string }[]) =>
  list.map((o) => `${o.name} ${o.percent} %`).join(', ') || 'nobody';

/** From when the shares that were saved count. */
function savedWords({ coming, rows }: View, day: (at: number) => string): string {
  const later = coming[0]?.from ?? rows.find((o) => o.until !== null)?.until;
  return later
    ? `lower shares take effect on ${day(later)}, after the notice`
    : 'co-owners changed from now on';
}

interface Theirs {
  now: View['rows'];
  was: View['rows'];
}

interface Newcomer {
  name: string;
  email: string;
  country: string;
}

interface Line {
  payee: Id<'affiliate'>;
  name: string;
  percent: string;
}

function Change({
  product,
  name,
  before,
  onClose,
}: {
  product: Id<'product'>;
  name: string;
  before: View['rows'];
  onClose: () => void;
}) {
  const { day } = useProgramme();
  // what this form began from, whatever is read since
  const [begun, setBegun] = useState(before);
  const [lines, setLines] = useState<Line[]>(
    before.map(({ payee, name: called, percent }) => ({ payee, name: called, percent })),
  );
  const [fault, setFault] = useState<string | null>(null);
  const [theirs, setTheirs] = useState<{ now: View['rows']; was: View['rows'] } | null>(null);
  const [newcomer, setNewcomer] = useState<{ name: string; email: string; country: string } | null>(null);
  const failed = (f: unknown) =>
    setFault(f instanceof Refused ? f.problem.detail : 'It was not saved; what you typed is kept.');
  const overtaken = (f: unknown) => {
    failed(f);
    if (!(f instanceof Refused) || f.problem.code !== 'stale') return;
    const { rows } = f.problem.current as View;
    setTheirs({ now: rows, was: begun });
    setBegun(rows);
  };
  const save = useAct(setCoOwners, {
    done: (saved) => {
      onClose();
      toast(`${name}: ${savedWords(saved, day)}`);
    },
    failed: overtaken,
  });
  const add = useAct(addPartner, {
    done: (p) => {
      setFault(null);
      setNewcomer(null);
      setLines((l) => [...l, { payee: p.id, name: p.name, percent: '' }]);
      toast(`${p.name} is added and told by mail`);
    },
    failed,
  });
  const field = 'w-full rounded-sm border border-rule bg-sheet px-2 py-[5px] font-normal text-ink';
  const sum = lines.reduce((n, l) => {
    const p = parsePercent(l.percent);
    return n + (p.ok ? p.value : 0);
  }, 0);
  return (
    <Dialog
      open
      onClose={onClose}
      wide
      title={`Co-owners of ${name}`}
      about="Each gets a percent of what a sale leaves after commission and referral share, whoever brought the buyer. A lower share takes effect after the promised notice. What is granted already stays."
    >
      <FormFault>{fault}</FormFault>
      <TheirsNote theirs={theirs} setLines={setLines} setTheirs={setTheirs} setFault={setFault} />
      <form
        id="owners"
        onSubmit={(e) => {
          e.preventDefault();
          setFault(null);
          save.mutate({
            params: { id: product },
            body: {
              owners: lines.map(({ payee, percent }) => ({ payee, percent })),
              expects: begun.map(({ payee, percent }) => ({ payee, percent })),
            },
          });
        }}
      >
        <Owners lines={lines} setLines={setLines} field={field} />
        {lines.length === 0 && <Said gap={2}>Nobody: what a sale leaves is yours.</Said>}
        <p className={`mt-2 border-t border-ink pt-1 text-right ${sum > 1_000_000 ? 'text-madder' : ''}`}>
          Together {formatPercent(sum)}
          {sum <= 1_000_000 && <span className="text-ink3">, {formatPercent(1_000_000 - sum)} to you</span>}
        </p>
      </form>
      <p className="mt-2">
        Add{' '}
        <Pick
          label="Somebody who is known"
          find={findAffiliates}
          onPick={(p) => {
            if (!lines.some((l) => l.payee === p.id))
              setLines([...lines, { payee: p.id, name: p.name, percent: '' }]);
          }}
        >
          somebody who is known here
        </Pick>{' '}
        or{' '}
        <button
          type="button"
          className="link"
          onClick={() => setNewcomer({ name: '', email: '', country: '' })}
        >
          somebody new
        </button>
      </p>
      {newcomer && (
        <NewcomerForm
          newcomer={newcomer}
          setFault={setFault}
          add={add}
          setNewcomer={setNewcomer}
          field={field}
        />
      )}
      <DialogFoot>
        <Button onClick={onClose}>Leave it</Button>
        <Button type="submit" form="owners" look="main" busy={save.isPending}>
          Change from now on
        </Button>
      </DialogFoot>
    </Dialog>
  );
}

/** What somebody else saved meanwhile, beside what it was. */
function TheirsNote({
  theirs,
  setLines,
  setTheirs,
  setFault,
}: {
  theirs: Theirs | null;
  setLines: (lines: Line[]) => void;
  setTheirs: (theirs: Theirs | null) => void;
  setFault: (fault: string | null) => void;
}) {
  if (!theirs) return null;
  return (
    <Note role="status" className="mt-2">
      They “{inWords(theirs.now)}”; it was “{inWords(theirs.was)}”.{' '}
      <button
        type="button"
        className="link"
        onClick={() => {
          setLines(theirs.now.map(({ payee, name: called, percent }) => ({ payee, name: called, percent })));
          setTheirs(null);
          setFault(null);
        }}
      >
        Take theirs
      </button>
      , or change again to put yours in their place.
    </Note>
  );
}

/** Who owns how much of it. */
function Owners({
  lines,
  setLines,
  field,
}: {
  lines: Line[];
  setLines: (lines: Line[]) => void;
  field: 'w-full rounded-sm border border-rule bg-sheet px-2 py-[5px] font-normal text-ink';
}) {
  return lines.map((l, i) => (
    <div key={l.payee} className="mt-2 grid grid-cols-[1fr_120px_auto] items-center gap-3">
      <span>{l.name}</span>
      <label className="flex items-center gap-2">
        <span className="sr-only">Percent of {l.name}</span>
        <input
          required
          autoFocus={l.percent === ''}
          value={l.percent}
          onChange={(e) => setLines(lines.map((x, n) => (n === i ? { ...x, percent: e.target.value } : x)))}
          placeholder="25"
          className={field}
        />{' '}
        %
      </label>
      <Button look="bare" onClick={() => setLines(lines.filter((_, n) => n !== i))}>
        take out
      </Button>
    </div>
  ));
}

/** Somebody new, who is told by mail. */
function NewcomerForm({
  newcomer,
  setFault,
  add,
  setNewcomer,
  field,
}: {
  newcomer: Newcomer;
  setFault: (fault: string | null) => void;
  add: ReturnType<typeof useAct>;
  setNewcomer: (newcomer: Newcomer | null) => void;
  field: 'w-full rounded-sm border border-rule bg-sheet px-2 py-[5px] font-normal text-ink';
}) {
  if (!newcomer) return null;
  return (
    <form
      className="mt-2 grid grid-cols-[1fr_1fr_160px_auto] items-end gap-3 border border-rule p-3"
      onSubmit={(e) => {
        e.preventDefault();
        setFault(null);
        add.mutate({ body: newcomer });
      }}
    >
      <Labelled>
        Name
        <input
          autoFocus
          required
          value={newcomer.name}
          onChange={(e) => setNewcomer({ ...newcomer, name: e.target.value })}
          placeholder="Ada Birkeland"
          className={field}
        />
      </Labelled>
      <Labelled>
        E-mail address
        <input
          required
          type="email"
          value={newcomer.email}
          onChange={(e) => setNewcomer({ ...newcomer, email: e.target.value })}
          placeholder="ada@birkeland.example"
          className={field}
        />
      </Labelled>
      <SelectField
        label="Country"
        value={newcomer.country}
        options={[['', 'choose…'], ...allCountries()]}
        onPick={(country) => setNewcomer({ ...newcomer, country })}
      />
      <Button type="submit" busy={add.isPending}>
        Add
      </Button>
    </form>
  );
}
