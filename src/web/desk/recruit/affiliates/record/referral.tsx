import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { type ReplyOf } from '../../../../../contract/endpoint';
import { readReferral, setReferral } from '../../../../../contract/setup/shares';
import type { Id } from '../../../../../core/text/id';
import { useAct } from '../../../../kit/act';
import { Refused } from '../../../../kit/api';
import { asking } from '../../../../kit/asking';
import { Dialog, SubmitFoot } from '../../../../kit/dialog';
import { FormFault } from '../../../../kit/form';
import { Labelled } from '../../../../kit/labelled';
import { Pick } from '../../../../kit/pick';
import { useProgramme } from '../../../../kit/programme';
import { SelectField } from '../../../../kit/select';
import { Day, End, Money, Sums } from '../../../../kit/text';
import { useMay } from '../../../roles';
import { findAffiliates } from '../../../shared/find-affiliates';

type View = ReplyOf<typeof readReferral>;

/** Who brought an affiliate in, whom it brought in itself, and what that earned. */
export function ReferralOf({ id, name }: { id: Id<'affiliate'>; name: string }) {
  const may = useMay();
  const referral = useQuery(asking(readReferral, { params: { id } }));
  const [open, setOpen] = useState(false);
  if (!referral.data) return <span className="text-ink3">…</span>;
  const { by, next, waitsFor, brought } = referral.data;
  return (
    <span>
      {by ? (
        <>
          by{' '}
          <Link className="link" to={`/affiliates/${by.id}`}>
            {by.name}
          </Link>
          , who gets {by.percent} % of the {by.of}
          {by.until ? (
            <>
              {' '}
              until <End at={by.until} />
            </>
          ) : (
            ''
          )}
          {by.state !== 'active' && by.state !== 'paused' && (
            <span className="text-ochre"> · nothing, being {by.state}</span>
          )}
        </>
      ) : waitsFor ? (
        <>by {waitsFor}, from the day it joins</>
      ) : (
        'by nobody'
      )}
      {next && (
        <span className="text-ochre">
          {' '}
          · from <Day at={next.from} />:{' '}
          {next.name ? `${next.name}, ${next.percent} % of the ${next.of}` : 'nobody'}
        </span>
      )}
      {may(setReferral) && (
        <>
          {' '}
          ·{' '}
          <button
            type="button"
            className="link"
            aria-label="change who brought this affiliate in"
            onClick={() => setOpen(true)}
          >
            change
          </button>
        </>
      )}
      {brought.length > 0 && (
        <>
          {' '}
          · brought in{' '}
          {brought.map((b, i) => (
            <span key={`${b.id} ${b.from}`}>
              {i > 0 && ', '}
              <Link className="link" to={`/affiliates/${b.id}`}>
                {b.name}
              </Link>{' '}
              <span className="text-ink3">
                {b.percent} % of the {b.of}, <Money value={b.earned} /> so far
                {b.until && (
                  <>
                    , until <End at={b.until} />
                  </>
                )}
              </span>
            </span>
          ))}
        </>
      )}
      {open && <Change id={id} name={name} before={referral.data} onClose={() => setOpen(false)} />}
    </span>
  );
}

const inWords = (who: string | null, percent: string, name: string, months: string) =>
  who ? `${who}: ${percent || '—'} % of the ${name}, ${months ? `${months} months` : 'for ever'}` : 'nobody';

function Change({
  id,
  name,
  before,
  onClose,
}: {
  id: Id<'affiliate'>;
  name: string;
  before: View;
  onClose: () => void;
}) {
  const { by, usual } = before;
  const { day } = useProgramme();
  const [who, setWho] = useState<{ id: Id<'affiliate'>; name: string } | null>(
    by ? { id: by.id, name: by.name } : null,
  );
  const [percent, setPercent] = useState(by?.percent ?? usual.percent);
  const [basis, setOf] = useState(by?.of ?? usual.of);
  const [months, setMonths] = useState(usual.months);
  const [fault, setFault] = useState<string | null>(null);
  const save = useAct(setReferral, {
    done: (saved) => {
      onClose();
      toast(
        saved.next
          ? `${name}: changes on ${day(saved.next.from)}, after the notice`
          : `${name}: changed from now on`,
      );
    },
    failed: (f) => setFault(f instanceof Refused ? f.problem.detail : 'It was not saved'),
  });
  const field = 'mt-1 w-full rounded-sm border border-rule bg-sheet px-2 py-[5px] font-normal text-ink';
  return (
    <Dialog
      open
      onClose={onClose}
      title={`Who brought ${name} in`}
      about="Out of your part of each sale. What pays less takes effect after the promised notice. What is granted already stays."
    >
      <form
        onSubmit={(e) => {
          e.preventDefault();
          setFault(null);
          save.mutate({ params: { id }, body: { by: who?.id ?? null, percent, of: basis, months } });
        }}
      >
        <FormFault>{fault}</FormFault>
        <p className="mt-2">
          <Pick label="Who brought this affiliate in" find={findAffiliates} onPick={setWho}>
            {who ? who.name : 'nobody: choose an affiliate'}
          </Pick>
          {who && (
            <>
              {' '}
              ·{' '}
              <button type="button" className="link" onClick={() => setWho(null)}>
                nobody
              </button>
            </>
          )}
        </p>
        {who && (
          <div className="mt-3 grid grid-cols-3 gap-3">
            <Labelled>
              Percent
              <input
                autoFocus
                required
                value={percent}
                onChange={(e) => setPercent(e.target.value)}
                placeholder="10"
                className={field}
              />
            </Labelled>
            <SelectField
              label="Of"
              value={basis}
              options={[
                ['commission', 'the commission'],
                ['sale', 'the sale'],
              ]}
              onPick={setOf}
            />
            <Labelled>
              Months from now
              <input
                value={months}
                onChange={(e) => setMonths(e.target.value.replace(/\D/g, ''))}
                placeholder="for ever"
                className={field}
              />
            </Labelled>
          </div>
        )}
        <div className="mt-3">
          <Sums
            rows={[
              { label: 'Before', figure: by ? `${by.name}: ${by.percent} % of the ${by.of}` : 'nobody' },
              {
                label: 'From now on',
                figure: inWords(who?.name ?? null, percent, basis, months),
                weight: 'sum',
              },
            ]}
          />
        </div>
        <SubmitFoot onLeave={onClose} busy={save.isPending}>
          Change from now on
        </SubmitFoot>
      </form>
    </Dialog>
  );
}
