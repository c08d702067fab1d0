import { useQuery } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { useForm } from 'react-hook-form';
import { useNavigate, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import type { BodyOf } from '../../../../contract/endpoint';
import { collectStatus, createRun, listRuns, readStatusReport } from '../../../../contract/settle/payouts';
import { readProgramme } from '../../../../contract/setup/settings';
import { dayOf } from '../../../../core/calendar/zone';
import { runStates } from '../../../../core/payouts/lists';
import { runStateWords } from '../../../../core/payouts/plan';
import { useAct } from '../../../kit/act';
import { asking } from '../../../kit/asking';
import { Button } from '../../../kit/button';
import { Choice } from '../../../kit/choice';
import { Dialog, SubmitFoot } from '../../../kit/dialog';
import { Field, FormFault, placeFaults, resolverOf } from '../../../kit/form';
import { useKeys } from '../../../kit/keys';
import { useCursor, useList } from '../../../kit/lists';
import { DayOf } from '../../../kit/picked-fields';
import { Empty, Failed, Heading } from '../../../kit/place';
import { useProgramme } from '../../../kit/programme';
import { useRefresh } from '../../../kit/refresh';
import { useSend } from '../../../kit/send';
import { State } from '../../../kit/state';
import { Table } from '../../../kit/table';
import { Day, Money } from '../../../kit/text';
import { useMay } from '../../roles';

type StateName = (typeof runStates)[number];

/** Reads a status report from the bank: chosen as a file, or fetched from the connected bank. */
export function StatusButtons() {
  const may = useMay();
  const { demo } = useProgramme();
  const file = useRef<HTMLInputElement>(null);
  const told = (r: { said: string; unknown: string[] }) => {
    toast(r.said);
    for (const u of r.unknown.slice(0, 4)) toast.error(u);
  };
  const read = useAct(readStatusReport, { done: told });
  const collect = useAct(collectStatus, { done: told });
  if (!may(readStatusReport)) return null;
  return (
    <>
      {demo && (
        <Button busy={collect.isPending} onClick={() => collect.mutate({})}>
          Ask the bank
        </Button>
      )}
      <Button busy={read.isPending} onClick={() => file.current?.click()}>
        Read a status report
      </Button>
      <input
        ref={file}
        type="file"
        accept=".xml,.csv,text/csv,application/xml"
        className="hidden"
        aria-label="Status report"
        onChange={(e) => {
          const chosen = e.target.files?.[0];
          e.target.value = '';
          if (!chosen) return;
          if (chosen.size > 5_000_000) {
            toast.error('A status report of more than 5 MB is not read');
            return;
          }
          void chosen.text().then((content) => read.mutate({ body: { name: chosen.name, content } }));
        }}
      />
    </>
  );
}

export default function Payouts() {
  const [params, setParams] = useSearchParams();
  const state = (params.get('state') ?? '') as StateName | '';
  const list = useList(listRuns, state ? { state } : {});
  const navigate = useNavigate();
  const may = useMay();
  const cursor = useCursor(list.rows, (r) => r.id);
  const open = (id: string) => void navigate(`/payouts/${id}`);
  const drafting = params.get('draft') === '1' && may(createRun);
  const setDrafting = (on: boolean) => setParams(on ? { draft: '1' } : {});
  const keys = useKeys([
    { key: 'j', what: 'next run', act: () => cursor.move(1) },
    { key: 'k', what: 'run before', act: () => cursor.move(-1) },
    {
      key: 'Enter',
      what: 'open',
      act: () => {
        if (cursor.row) open(cursor.row.id);
      },
    },
    ...(may(createRun) ? [{ key: 'n', what: 'draft a run', act: () => setDrafting(true) }] : []),
  ]);
  if (list.failed) return <Failed fault={list.failed} retry={list.again} />;
  return (
    <>
      <Heading
        title="Payouts"
        acts={
          <>
            <StatusButtons />
            {may(createRun) && (
              <Button look="main" keyName="N" onClick={() => setDrafting(true)}>
                Draft a run
              </Button>
            )}
          </>
        }
      >
        <Choice
          label="State"
          value={state}
          options={[
            ['', 'Every run'],
            ...runStates.map((s) => [s, `Runs that are ${runStateWords[s]}`] as const),
          ]}
          onChange={(v) => setParams(v ? { state: v } : {})}
        />
        , newest first; a file written is not yet a payment
      </Heading>
      <Table
        label="Payout runs"
        rows={list.rows}
        idOf={(r) => r.id}
        at={cursor.at}
        onOpen={(r) => open(r.id)}
        onEnd={list.onEnd}
        loading={list.loading}
        empty={
          <Empty title="No payout run yet">
            A run pays what has cleared up to a day. Draft one: you see everybody’s amount and who is left out
            and why, before anything moves.
          </Empty>
        }
        columns={[
          { head: 'Run', cell: (r) => <b className="font-semibold">{r.number}</b>, width: '60px' },
          { head: 'State', cell: (r) => <State is={r.state} />, width: '140px' },
          {
            head: 'Drafted',
            cell: (r) => (
              <>
                <Day at={r.createdAt} /> <span className="text-ink3">{r.createdBy}</span>
              </>
            ),
          },
          { head: 'Up to', cell: (r) => <Day at={r.cutoff - 1} />, width: '120px' },
          { head: 'Payees', cell: (r) => r.payees.toLocaleString('en-GB'), figure: true, width: '80px' },
          { head: 'Total', cell: (r) => <Money value={r.total} />, figure: true, width: '120px' },
          { head: 'Settled', cell: (r) => r.settled || '—', figure: true, width: '80px' },
          {
            head: 'Came back',
            cell: (r) => (r.failed ? <span className="text-madder">{r.failed}</span> : '—'),
            figure: true,
            width: '95px',
          },
          {
            head: 'Promised by',
            cell: (r) => (
              <span className={r.overdue ? 'text-madder' : ''}>
                <Day at={r.promisedAt} />
                {r.overdue ? ', overdue' : ''}
              </span>
            ),
            figure: true,
            width: '150px',
          },
        ]}
      />
      {drafting && <DraftDialog onClose={() => setDrafting(false)} onDone={open} />}
      {keys}
    </>
  );
}

type Values = BodyOf<typeof createRun>;

function DraftDialog({ onClose, onDone }: { onClose: () => void; onDone: (id: string) => void }) {
  const { now, zone, base } = useProgramme();
  const refresh = useRefresh();
  const settings = useQuery(asking(readProgramme));
  const [fault, setFault] = useState<string | null>(null);
  const send = useSend(createRun);
  const {
    control,
    register,
    handleSubmit,
    setError,
    formState: { errors, isSubmitting },
  } = useForm<Values>({
    resolver: resolverOf(createRun.body),
    values: { cutoff: dayOf(now, zone), minimum: settings.data?.minimumPayout ?? '' },
    resetOptions: { keepDirtyValues: true },
  });
  return (
    <Dialog
      open
      onClose={onClose}
      title="Draft a payout run"
      about="Proposes everybody whose cleared balance reaches the minimum. Nothing moves before it is approved."
    >
      <form
        noValidate
        className="space-y-3"
        onSubmit={(e) =>
          void handleSubmit(async (values) => {
            setFault(null);
            try {
              const run = await send({ body: values });
              void refresh(createRun);
              onDone(run.id);
            } catch (thrown) {
              setFault(placeFaults(thrown, setError, ['cutoff', 'minimum']));
            }
          })(e)
        }
      >
        <FormFault>{fault}</FormFault>
        <DayOf
          name="cutoff"
          schema={createRun.body.properties.cutoff}
          control={control}
          errors={errors}
          hint="Commissions that cleared up to the end of this day"
        />
        <Field
          name="minimum"
          schema={createRun.body.properties.minimum}
          register={register}
          errors={errors}
          unit={base}
          hint="Smaller balances wait for a later run"
        />
        <SubmitFoot onLeave={onClose} busy={isSubmitting}>
          Draft
        </SubmitFoot>
      </form>
    </Dialog>
  );
}
