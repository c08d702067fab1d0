import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { type ReplyOf } from '../../../../../contract/endpoint';
import { type readAffiliate } from '../../../../../contract/recruit/affiliates';
import { listAffiliates, setSorting, setTrust } from '../../../../../contract/recruit/roster';
import { partnerKindList } from '../../../../../core/recruiting/kinds';
import type { Id } from '../../../../../core/text/id';
import { useAct } from '../../../../kit/act';
import { Refused } from '../../../../kit/api';
import { asking } from '../../../../kit/asking';
import { Button } from '../../../../kit/button';
import { DayField } from '../../../../kit/day-input';
import { Dialog, DialogFoot } from '../../../../kit/dialog';
import { FormFault } from '../../../../kit/form';
import { Select } from '../../../../kit/select';
import { Day } from '../../../../kit/text';
import { useMay } from '../../../roles';

type View = ReplyOf<typeof readAffiliate>;

/** Kind of partner, and who of the staff looks after it: saved at once. */
export function SortingOf({ affiliate }: { affiliate: View }) {
  const may = useMay();
  const staff = useQuery({ ...asking(listAffiliates, { query: { limit: 1 } }), enabled: may(setSorting) });
  const back = useAct(setSorting, { done: () => toast('Taken back') });
  const save = useAct(setSorting);
  const put = (change: { kind?: string; lookedAfter?: Id<'staff'> | null }) =>
    save.mutate(
      { params: { id: affiliate.id }, body: { ...change, version: affiliate.version } },
      {
        onSuccess: (r) =>
          toast('Saved', {
            duration: 10_000,
            action: {
              label: 'Undo',
              onClick: () =>
                back.mutate({
                  params: { id: affiliate.id },
                  body: {
                    kind: affiliate.kind,
                    lookedAfter: affiliate.lookedAfter?.id ?? null,
                    version: r.version,
                  },
                }),
            },
          }),
      },
    );
  if (!may(setSorting))
    return (
      <>
        {affiliate.kind || 'not said'}, looked after by {affiliate.lookedAfter?.name ?? 'nobody'}
      </>
    );
  return (
    <span>
      <Select
        label="Kind of partner"
        value={affiliate.kind}
        disabled={save.isPending}
        onPick={(kind) => put({ kind })}
        options={[['', 'not said'], ...partnerKindList.map((k) => [k, k] as const)]}
        className="w-auto py-px!"
      />
      , looked after by{' '}
      <Select
        label="Looked after by"
        value={affiliate.lookedAfter?.id ?? ''}
        disabled={save.isPending}
        onPick={(id) => put({ lookedAfter: id || null })}
        options={[
          ['', 'nobody'],
          ...(staff.data?.staff ?? (affiliate.lookedAfter ? [affiliate.lookedAfter] : [])).map(
            (s) => [s.id, s.name] as const,
          ),
        ]}
        className="w-auto py-px!"
      />
    </span>
  );
}

/** Whether it is let in for later products without being looked at, until when. */
export function TrustOf({ affiliate }: { affiliate: View }) {
  const may = useMay();
  const [open, setOpen] = useState(false);
  const [until, setUntil] = useState('');
  const [atSale, setAtSale] = useState(affiliate.trust?.atSale ?? false);
  const [fault, setFault] = useState<string | null>(null);
  const save = useAct(setTrust, {
    done: (t) => {
      setOpen(false);
      toast(t ? 'Later applications are let in' : 'Later applications wait for a person');
    },
    failed: (f) => setFault(f instanceof Refused ? f.problem.detail : 'It was not saved'),
  });
  return (
    <span>
      {affiliate.trust ? (
        <>
          later products too, {affiliate.trust.atSale ? 'at sale' : 'after hold'},{' '}
          {affiliate.trust.until ? (
            <>
              until <Day at={affiliate.trust.until - 1} />
            </>
          ) : (
            'without an end'
          )}
        </>
      ) : (
        'no: each product is decided'
      )}
      {may(setTrust) && affiliate.joinedAt !== null && (
        <>
          {' '}
          ·{' '}
          <button type="button" className="link" aria-label="change trust" onClick={() => setOpen(true)}>
            change
          </button>
        </>
      )}
      {open && (
        <Dialog
          open
          onClose={() => setOpen(false)}
          title={`Trust ${affiliate.name}`}
          about="Its later applications are let in without being looked at. Trust lapses by itself when its refunds rise above your line."
        >
          <form
            onSubmit={(e) => {
              e.preventDefault();
              setFault(null);
              save.mutate({ params: { id: affiliate.id }, body: { on: true, until, atSale } });
            }}
          >
            <FormFault>{fault}</FormFault>
            <DayField autoFocus label="Until, empty = without an end" value={until} onDay={setUntil} />
            <label className="mt-2 flex items-center gap-2">
              <input type="checkbox" checked={atSale} onChange={(e) => setAtSale(e.target.checked)} /> also
              paid at sale
            </label>
            <DialogFoot>
              {affiliate.trust && (
                <Button
                  busy={save.isPending}
                  onClick={() =>
                    save.mutate({
                      params: { id: affiliate.id },
                      body: { on: false, until: '', atSale: false },
                    })
                  }
                >
                  Trust it no longer
                </Button>
              )}
              <Button onClick={() => setOpen(false)}>Leave it</Button>
              <Button type="submit" look="main" busy={save.isPending}>
                Trust it
              </Button>
            </DialogFoot>
          </form>
        </Dialog>
      )}
    </span>
  );
}
