import { useQuery } from '@tanstack/react-query';
import { useRef, useState, type Ref } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import type { ReplyOf } from '../../../../contract/endpoint';
import {
  draftPolicy,
  dropPolicy,
  listPolicies,
  publishPolicy,
  readPolicy,
} from '../../../../contract/setup/policy';
import type { Id } from '../../../../core/text/id';
import { useAct } from '../../../kit/act';
import { asking } from '../../../kit/asking';
import { Button } from '../../../kit/button';
import { useKeys } from '../../../kit/keys';
import { Sheet, Split } from '../../../kit/layout';
import { Bar, Empty, Failed, Skeleton } from '../../../kit/place';
import { PolicySections } from '../../../kit/policy';
import { useMay } from '../../roles';
import { PolicyForm, type DraftHandle } from './form';
import { PolicyMargin, type Whole } from './margin';
import { PublishDialog } from './publish';
import { VersionList, type Version } from './versions';

type Policies = ReplyOf<typeof listPolicies>;

/** The policy: versions, the one that is chosen as it reads, and what differs from the one before. */
export default function Policy() {
  const list = useQuery(asking(listPolicies));
  if (list.isPending) return <Skeleton />;
  if (list.error) return <Failed fault={list.error} retry={() => void list.refetch()} />;
  return <Versions policy={list.data} />;
}

/** The version that the address asks for, or the newest. */
function useChosen(rows: Version[]) {
  const [params, setParams] = useSearchParams();
  const asked = params.get('id');
  const id = rows.find((v) => v.id === asked)?.id ?? rows[0]?.id ?? null;
  const current = useQuery({
    ...asking(readPolicy, { params: { id: id! } }),
    enabled: id !== null,
  });
  const show = (to: string | null) => setParams(to ? { id: to } : {}, { replace: true });
  const step = (by: number) => {
    const i = rows.findIndex((r) => r.id === id);
    const to = rows[Math.min(rows.length - 1, Math.max(0, i + by))];
    if (to) show(to.id);
  };
  return { id, current, show, step };
}

function Versions({ policy }: { policy: Policies }) {
  const { rows } = policy;
  const may = useMay();
  const navigate = useNavigate();
  const { id, current, show, step } = useChosen(rows);
  const typed = useRef<DraftHandle>(null);
  const [publishing, setPublishing] = useState<Whole | null>(null);
  const draft = useAct(draftPolicy, { done: (p) => show(p.id) });
  const begin = () => {
    if (may(draftPolicy)) draft.mutate({});
  };
  const p = current.data;
  // what is typed is part of what is published: it is saved before anything is asked
  const publish = async () => {
    if (p?.state !== 'draft' || !may(publishPolicy)) return;
    const saved = await (typed.current?.save() ?? p);
    if (saved) setPublishing(saved);
  };
  const keys = useKeys([
    { key: 'j', what: 'next version', act: () => step(1) },
    { key: 'k', what: 'version before', act: () => step(-1) },
    { key: 'n', what: 'draft the next version', act: begin },
    { key: 'p', what: 'publish the draft', act: () => void publish() },
    { key: 'Escape', what: 'back to Today', act: () => void navigate('/') },
  ]);
  return (
    <>
      <Split>
        <VersionList rows={rows} id={id} show={show} />
        <Middle policy={policy} current={current} id={id} typed={typed} />
        {p && <PolicyMargin p={p} />}
      </Split>
      {may(draftPolicy) && (
        <Bar>
          {p?.state === 'draft' ? (
            <DraftActs id={p.id} publish={() => void publish()} onDropped={() => show(null)} />
          ) : (
            <Button look={rows.length ? 'quiet' : 'main'} keyName="N" busy={draft.isPending} onClick={begin}>
              {nextInWords(rows)}
            </Button>
          )}
        </Bar>
      )}
      {publishing && (
        <PublishDialog
          p={publishing}
          last={rows.find((r) => r.state === 'published')}
          onClose={() => setPublishing(null)}
        />
      )}
      {keys}
    </>
  );
}

function Middle({
  policy,
  id,
  current,
  typed,
}: {
  policy: Policies;
  typed: Ref<DraftHandle>;
  id: string | null;
  current: ReturnType<typeof useChosen>['current'];
}) {
  const p = current.data;
  return (
    <Sheet tabIndex={0} aria-label={p ? `Version ${p.number}` : 'Policy'}>
      {policy.rows.length === 0 && <NoPolicy />}
      {id !== null && current.isPending && <Skeleton />}
      {current.error && <Failed fault={current.error} retry={() => void current.refetch()} />}
      {p && <VersionShown p={p} policy={policy} typed={typed} />}
    </Sheet>
  );
}

function NoPolicy() {
  const may = useMay();
  return (
    <Empty title="No policy yet">
      It says what affiliates may do and what counts. Ways of promoting come first: each is welcome, asked
      first or not here. {may(draftPolicy) && 'Draft the first version.'}
    </Empty>
  );
}

function nextInWords(rows: Version[]): string {
  if (rows.some((r) => r.state === 'draft')) return 'Go to the draft';
  return rows.length ? 'Draft the next version' : 'Draft the first version';
}

/** A draft as a form for whom may write it, a version as it reads for everybody else. */
function VersionShown({ p, policy, typed }: { p: Whole; policy: Policies; typed: Ref<DraftHandle> }) {
  const may = useMay();
  if (p.state === 'draft' && may(draftPolicy))
    return (
      <PolicyForm
        key={p.id}
        version={p}
        live={policy.live}
        kinds={policy.kinds}
        groups={policy.groups}
        ref={typed}
      />
    );
  return (
    <>
      <h2 className="text-[20px]!">Version {p.number}</h2>
      <PolicySections sections={p.sections} />
    </>
  );
}

function DraftActs({
  id,
  publish,
  onDropped,
}: {
  id: Id<'policy'>;
  publish: () => void;
  onDropped: () => void;
}) {
  const drop = useAct(dropPolicy, {
    done: () => {
      onDropped();
      toast('The draft is thrown away');
    },
  });
  return (
    <>
      <Button look="main" keyName="P" onClick={publish}>
        Publish…
      </Button>
      <Button busy={drop.isPending} onClick={() => drop.mutate({ params: { id } })}>
        Throw the draft away
      </Button>
    </>
  );
}
