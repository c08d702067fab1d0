import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import type { ReplyOf } from '../../../../contract/endpoint';
import {
  draftPolicy,
  dropPolicy,
  listPolicies,
  publishPolicy,
  readPolicy,
} from '../../../../contract/setup/policy';
import { useAct } from '../../../kit/act';
import { call } from '../../../kit/api';
import { Button } from '../../../kit/button';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { useKeys } from '../../../kit/keys';
import { Bar, Empty, Failed, Skeleton } from '../../../kit/place';
import { PolicyChanges, PolicySections } from '../../../kit/policy';
import { State } from '../../../kit/state';
import { Day, Sums } from '../../../kit/text';
import { useMay } from '../../roles';
import { BeforeLive } from './before-live';
import { PolicyForm } from './form';

type Version = ReplyOf<typeof listPolicies>['rows'][number];
const endWords = {
  remind: 'reminded',
  'hold-pay': 'not paid until they do',
  pause: 'paused until they do',
} as const;

function VersionState({ of }: { of: Version }) {
  if (of.state === 'draft') return <State is="draft" />;
  return of.inForce ? (
    <State is="live" word="in force" />
  ) : of.inNotice ? (
    <State is="in notice" word="in its notice" />
  ) : (
    <State is="done" word="replaced" />
  );
}

/** The policy: versions, the one that is chosen as it reads, and what differs from the one before. */
export default function Policy() {
  const [params, setParams] = useSearchParams();
  const may = useMay();
  const navigate = useNavigate();
  const list = useQuery({ queryKey: ['policies'], queryFn: () => call(listPolicies) });
  const rows = list.data?.rows ?? [];
  const id = params.get('id') ?? rows[0]?.id ?? null;
  const current = useQuery({
    queryKey: ['policy', id],
    queryFn: () => call(readPolicy, { params: { id: id! } }),
    enabled: id !== null,
  });
  const [publishing, setPublishing] = useState(false);
  const show = (to: string | null) => setParams(to ? { id: to } : {}, { replace: true });
  const draft = useAct(draftPolicy, { done: (p) => show(p.id) });
  const drop = useAct(dropPolicy, {
    done: () => {
      show(null);
      toast('The draft is thrown away');
    },
  });
  const publish = useAct(publishPolicy, {
    done: (p) => {
      setPublishing(false);
      toast(`Version ${p.number} is published; ${p.outstanding} affiliates are told`);
    },
  });
  const step = (by: number) => {
    const i = rows.findIndex((r) => r.id === id);
    const to = rows[Math.min(rows.length - 1, Math.max(0, i + by))];
    if (to) show(to.id);
  };
  const hasDraft = rows.some((r) => r.state === 'draft');
  const p = current.data;
  const keys = useKeys([
    { key: 'j', what: 'next version', act: () => step(1) },
    { key: 'k', what: 'version before', act: () => step(-1) },
    {
      key: 'n',
      what: 'draft the next version',
      act: () => {
        if (may(draftPolicy)) draft.mutate({});
      },
    },
    {
      key: 'p',
      what: 'publish the draft',
      act: () => {
        if (p?.state === 'draft' && may(publishPolicy)) setPublishing(true);
      },
    },
    { key: 'Escape', what: 'back to Today', act: () => void navigate('/') },
  ]);
  if (list.isPending) return <Skeleton />;
  if (list.error) return <Failed fault={list.error} retry={() => void list.refetch()} />;
  const last = rows.find((r) => r.state === 'published');
  return (
    <>
      <div className="flex min-h-0 flex-1">
        <section
          className="flex w-[270px] shrink-0 flex-col overflow-auto border-r border-rule px-4 pt-3"
          tabIndex={0}
          aria-label="Versions"
        >
          <h1>Policy</h1>
          <p className="mt-[3px] text-ink2">
            What affiliates agree to.{' '}
            <Link className="link underline" to="/as">
              As they see it
            </Link>
          </p>
          <ul className="-mx-4 mt-3">
            {rows.map((r) => (
              <li
                key={r.id}
                className={`border-b border-rule2 ${r.id === id ? 'bg-sheet shadow-[inset_3px_0_var(--color-copper)]' : ''}`}
              >
                <button
                  type="button"
                  aria-current={r.id === id}
                  onClick={() => show(r.id)}
                  className="block w-full px-4 py-2 text-left"
                >
                  <span className="flex justify-between">
                    <b className="font-semibold">Version {r.number}</b>
                    <VersionState of={r} />
                  </span>
                  <span className="text-[12px] text-ink3">
                    {r.state === 'draft' ? (
                      <>by {r.by}</>
                    ) : (
                      <>
                        from <Day at={r.holdsFrom} /> · accepted by {r.accepted}
                        {r.outstanding > 0 && (
                          <span className="text-ochre">, {r.outstanding} outstanding</span>
                        )}
                      </>
                    )}
                  </span>
                </button>
              </li>
            ))}
          </ul>
          <BeforeLive />
        </section>
        <section
          className="min-w-0 flex-1 overflow-auto bg-sheet px-[22px] py-[18px]"
          tabIndex={0}
          aria-label={p ? `Version ${p.number}` : 'Policy'}
        >
          {rows.length === 0 && (
            <Empty title="No policy yet">
              It says what affiliates may do and what counts. Facts come first: paid search, kinds of
              affiliates, what is declined. {may(draftPolicy) && 'Draft the first version.'}
            </Empty>
          )}
          {id !== null && current.isPending && <Skeleton />}
          {current.error && <Failed fault={current.error} retry={() => void current.refetch()} />}
          {p && p.state === 'draft' && may(draftPolicy) ? (
            <PolicyForm key={`${p.id} ${p.version}`} of={p} live={list.data.live} kinds={list.data.kinds} />
          ) : (
            p && (
              <>
                <h2 className="text-[20px]!">Version {p.number}</h2>
                <PolicySections of={p.sections} />
              </>
            )
          )}
        </section>
        {p && (
          <aside
            className="w-[360px] shrink-0 overflow-auto border-l border-rule px-[18px] py-4"
            tabIndex={0}
            aria-label="Margin"
          >
            {p.state === 'published' && (
              <>
                <h2>Acceptance</h2>
                <div className="mt-1">
                  <Sums
                    rows={[
                      { label: 'Published', figure: <Day at={p.publishedAt} /> },
                      {
                        label: p.inNotice ? 'Will hold from' : 'Holds from',
                        figure: <Day at={p.holdsFrom} />,
                      },
                      { label: 'Accepted by', figure: p.accepted },
                      { label: 'Outstanding', figure: p.outstanding, weight: 'sum' },
                    ]}
                  />
                </div>
                {p.outstanding > 0 && (
                  <p className="mt-2 text-ink2">
                    At the end of the notice they are {endWords[p.content.atEnd]}:{' '}
                    {p.unacceptedSample.map((a, i) => (
                      <span key={a.id}>
                        {i > 0 && ', '}
                        <Link className="link" to={`/affiliates/${a.id}`}>
                          {a.name}
                        </Link>
                      </span>
                    ))}
                    {p.outstanding > p.unacceptedSample.length && (
                      <>
                        {' '}
                        and{' '}
                        <Link className="link" to="/affiliates?only=unaccepted">
                          {p.outstanding - p.unacceptedSample.length} more
                        </Link>
                      </>
                    )}
                    .
                  </p>
                )}
              </>
            )}
            <h2 className={p.state === 'published' ? 'mt-5' : ''}>
              {p.changes.length
                ? `What differs from version ${p.number - 1}`
                : p.number === 1
                  ? 'The first version'
                  : 'Nothing differs from the version before'}
            </h2>
            <PolicyChanges of={p.changes} />
          </aside>
        )}
      </div>
      {may(draftPolicy) && (
        <Bar>
          {p?.state === 'draft' ? (
            <>
              <Button look="main" keyName="P" onClick={() => setPublishing(true)}>
                Publish…
              </Button>
              <Button busy={drop.isPending} onClick={() => drop.mutate({ params: { id: p.id } })}>
                Throw the draft away
              </Button>
            </>
          ) : (
            <Button
              look={rows.length ? 'quiet' : 'main'}
              keyName="N"
              busy={draft.isPending}
              onClick={() => draft.mutate({})}
            >
              {hasDraft
                ? 'Go to the draft'
                : rows.length
                  ? 'Draft the next version'
                  : 'Draft the first version'}
            </Button>
          )}
        </Bar>
      )}
      {publishing && p && (
        <Dialog
          open
          onClose={() => setPublishing(false)}
          title={`Publish version ${p.number}`}
          about={
            last
              ? `It holds after the ${last.number === p.number ? '' : 'notice of '}version ${last.number} promises; every affiliate is told now, with the changes marked.`
              : 'The first version holds at once. Whoever applies from now on accepts it by applying.'
          }
        >
          <Sums
            rows={[
              { label: 'Sections that change', figure: p.changes.length || (last ? 0 : p.sections.length) },
              {
                label: 'At the end of the notice, who has not accepted is',
                figure: endWords[p.content.atEnd],
              },
            ]}
          />
          <p className="mt-2 text-ink3">Unsaved words of the form are not in it: save them first.</p>
          <DialogFoot>
            <Button onClick={() => setPublishing(false)}>Leave it</Button>
            <Button
              look="main"
              busy={publish.isPending}
              onClick={() => publish.mutate({ params: { id: p.id }, body: { version: p.version } })}
            >
              Publish and tell everybody
            </Button>
          </DialogFoot>
        </Dialog>
      )}
      {keys}
    </>
  );
}
