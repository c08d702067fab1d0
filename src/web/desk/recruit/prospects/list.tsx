import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import type { ReplyOf } from '../../../../contract/endpoint';
import {
  inviteProspects,
  listProspects,
  prospectStates,
  refreshProspects,
  tagProspects,
} from '../../../../contract/recruit/prospects';
import { listSets } from '../../../../contract/setup/sets';
import { formatAge } from '../../../../core/calendar/format';
import { partnerKindList } from '../../../../core/recruiting/kinds';
import { useAct } from '../../../kit/act';
import { call } from '../../../kit/api';
import { Button } from '../../../kit/button';
import { Choice } from '../../../kit/choice';
import { useKeys } from '../../../kit/keys';
import { useCursor, useList } from '../../../kit/lists';
import { Bar, Empty, Failed, Heading } from '../../../kit/place';
import { useProgramme } from '../../../kit/programme';
import { SearchField } from '../../../kit/search';
import { useSelection } from '../../../kit/selection';
import { State } from '../../../kit/state';
import { Table } from '../../../kit/table';
import { Code, Share } from '../../../kit/text';
import { useMay } from '../../roles';
import { InviteDialog } from './invite';
import { TagDialog } from './tags';

export type Prospect = ReplyOf<typeof listProspects>['rows'][number];
const stateWords = { never: 'never invited', invited: 'invited', joined: 'joined' } as const;

/** How a prospect stands with us, in a mark and a word. */
export function ProspectState({ of }: { of: Pick<Prospect, 'state' | 'invite'> }) {
  if (of.state === 'joined') return <State is="active" word="joined" />;
  if (of.state === 'never') return <State is="" word="never invited" />;
  return (
    <State
      is={of.invite ?? 'sent'}
      word={of.invite === 'waiting' ? 'on its way' : (of.invite ?? 'invited')}
    />
  );
}

/** Partners of the registry: found, looked at, tagged and invited. */
export default function Prospects() {
  const [params, setParams] = useSearchParams();
  const navigate = useNavigate();
  const may = useMay();
  const { now } = useProgramme();
  const at = (key: string) => params.get(key) ?? '';
  const set = (key: string, value: string) => {
    const next = new URLSearchParams(params);
    if (value) next.set(key, value);
    else next.delete(key);
    setParams(next);
  };
  const query = {
    ...(at('q') ? { q: at('q') } : {}),
    ...(at('kind') ? { kind: at('kind') } : {}),
    ...(at('country') ? { country: at('country') } : {}),
    ...(at('standing') ? { standing: Number(at('standing')) } : {}),
    ...(at('state') ? { state: at('state') as 'never' } : {}),
    ...(at('vouched') ? { vouched: true } : {}),
    ...(at('tag') ? { tag: at('tag') } : {}),
  };
  const list = useList(listProspects, query);
  const first = list.first as ReplyOf<typeof listProspects> | undefined;
  const sets = useQuery({ queryKey: ['sets'], queryFn: () => call(listSets) });
  const cursor = useCursor(list.rows, (r) => r.id);
  const chosen = useSelection(list.rows, (r) => r.id);
  const [inviting, setInviting] = useState<string[] | null>(null);
  const [tagging, setTagging] = useState<string[] | null>(null);
  const refresh = useAct(refreshProspects, {
    done: (c) => toast(c.fault ? c.fault : `Read: ${c.partners.toLocaleString('en-GB')} partners`),
  });
  const open = (id: string) => void navigate(`/prospects/${id}`);
  const picked = chosen.size ? [...chosen.ids] : cursor.row ? [cursor.row.id] : [];
  const keys = useKeys([
    { key: 'j', what: 'next partner', act: () => cursor.move(1) },
    { key: 'k', what: 'partner before', act: () => cursor.move(-1) },
    {
      key: 'Enter',
      what: 'open',
      act: () => {
        if (cursor.row) open(cursor.row.id);
      },
    },
    {
      key: 'x',
      what: 'select',
      act: () => {
        if (cursor.row) chosen.toggle(cursor.row.id);
      },
    },
    {
      key: 'X',
      what: 'select from the last one selected to here',
      act: () => {
        if (cursor.row) chosen.range(cursor.row.id);
      },
    },
    {
      key: 'i',
      what: 'invite',
      act: () => {
        if (picked.length && may(inviteProspects)) setInviting(picked);
      },
    },
    {
      key: 't',
      what: 'tag',
      act: () => {
        if (picked.length && may(tagProspects)) setTagging(picked);
      },
    },
    {
      key: '/',
      what: 'search',
      act: () => document.querySelector<HTMLInputElement>('input[type=search]')?.focus(),
    },
    { key: 'Escape', what: 'drop the selection', act: () => chosen.clear() },
  ]);
  if (list.failed) return <Failed fault={list.failed} retry={list.again} />;
  const tags = (sets.data?.rows ?? []).filter((s) => s.of === 'tag');
  const copy = first?.copy;
  const searching = Object.keys(query).length > 0;
  return (
    <>
      <Heading
        title="Prospects"
        acts={
          <>
            <SearchField label="Id, name, site or keyword" />
            <Link className="link self-center whitespace-nowrap" to="/prospects/invitations">
              Invitations
            </Link>
          </>
        }
      >
        <Choice
          label="State"
          value={at('state')}
          options={[
            ['', 'Partners'],
            ...prospectStates.map((s) => [s, `Partners ${stateWords[s]}`] as const),
          ]}
          onChange={(v) => set('state', v)}
        />{' '}
        of{' '}
        <Choice
          label="Kind"
          value={at('kind')}
          options={[['', 'any kind'], ...partnerKindList.map((k) => [k, k] as const)]}
          onChange={(v) => set('kind', v)}
        />{' '}
        with{' '}
        <Choice
          label="Standing"
          value={at('standing')}
          options={[
            ['', 'any standing'],
            ...['40', '60', '75', '85'].map((n) => [n, `a standing of ${n} or more`] as const),
          ]}
          onChange={(v) => set('standing', v)}
        />
        ,{' '}
        <Choice
          label="Vouched for"
          value={at('vouched')}
          options={[
            ['', 'vouched for or not'],
            ['1', 'vouched for by the registry'],
          ]}
          onChange={(v) => set('vouched', v)}
        />
        , from{' '}
        <Choice
          label="Country"
          value={at('country')}
          options={[['', 'anywhere'], ...countries.map((c) => [c, c] as const)]}
          onChange={(v) => set('country', v)}
        />
        {tags.length > 0 && (
          <>
            , tagged{' '}
            <Choice
              label="Tag"
              value={at('tag')}
              options={[['', 'or not'], ...tags.map((t) => [t.id, t.name] as const)]}
              onChange={(v) => set('tag', v)}
            />
          </>
        )}
        {at('q') && <>, found by “{at('q')}”</>}
        {copy && (
          <span className="block text-[12px] text-ink3">
            {copy.fault ? (
              <span className="text-ochre">
                {copy.fault} since {formatAge(copy.faultAt ?? 0, Date.now())}. This is our copy
                {copy.doneAt ? ` of ${formatAge(copy.doneAt, now)} ago` : ''}; it is tried again by
                itself.{' '}
              </span>
            ) : copy.copying ? (
              'The registry is being read. '
            ) : (
              ''
            )}
            {copy.partners.toLocaleString('en-GB')} partners in our copy
            {copy.doneAt && !copy.fault
              ? `, ${formatAge(copy.doneAt, now) === 'now' ? 'read just now' : `read ${formatAge(copy.doneAt, now)} ago`}`
              : ''}
            {copy.registry && may(refreshProspects) && (
              <>
                {' '}
                ·{' '}
                <button
                  type="button"
                  className="link"
                  disabled={refresh.isPending}
                  onClick={() => refresh.mutate({})}
                >
                  {refresh.isPending ? 'reading…' : 'read again'}
                </button>
              </>
            )}
          </span>
        )}
      </Heading>
      <Table
        label="Prospects"
        rows={list.rows}
        idOf={(r) => r.id}
        at={cursor.at}
        onOpen={(r) => open(r.id)}
        onEnd={list.onEnd}
        loading={list.loading}
        empty={
          copy && !copy.registry ? (
            <Empty title="No registry is connected">
              With one, its partners are listed here to be found and invited. Your join address works without
              it.
            </Empty>
          ) : (
            <Empty title={searching ? 'No partner fits' : 'Nothing has been read yet'}>
              {searching
                ? 'Try another part of the name, another of their sites, or fewer conditions.'
                : 'The registry is read in the background; this takes a few seconds.'}
            </Empty>
          )
        }
        columns={[
          {
            head: <span className="sr-only">Selected</span>,
            width: '26px',
            cell: (r) => (
              <input
                type="checkbox"
                aria-label={`Select ${r.name}`}
                checked={chosen.has(r.id)}
                onClick={(e) => e.stopPropagation()}
                onChange={() => chosen.toggle(r.id)}
                className="accent-copper"
              />
            ),
          },
          {
            head: 'Name',
            cell: (r) => (
              <span className="block max-w-[250px] truncate">
                <b className="private font-semibold">{r.name}</b>
                {r.found && at('q') && <span className="text-ink3"> {r.found}</span>}
              </span>
            ),
          },
          {
            head: 'Sites',
            cell: (r) => (
              <span className="private block max-w-[190px] truncate text-ink2" title={r.sites.join(', ')}>
                {r.sites.map((s) => s.replace(/^https?:\/\//, '').replace(/\/$/, '')).join(', ')}
              </span>
            ),
          },
          {
            head: 'Kind',
            cell: (r) => (
              <span className="block max-w-[110px] truncate" title={r.kinds.join(', ')}>
                {r.kinds.join(', ')}
              </span>
            ),
            width: '116px',
          },
          { head: 'Country', cell: (r) => r.country, width: '64px' },
          { head: 'Audience', cell: (r) => r.audience.toLocaleString('en-GB'), figure: true, width: '80px' },
          { head: 'Cleared', cell: (r) => r.cleared, figure: true, width: '80px' },
          { head: 'Refunds', cell: (r) => <Share ppm={r.refundRate} />, figure: true, width: '70px' },
          {
            head: 'Standing',
            cell: (r) => (
              <>
                {r.vouched && <span title="The registry vouches for it">vouched · </span>}
                {r.standing ?? '—'}
              </>
            ),
            figure: true,
            width: '110px',
          },
          {
            head: 'With us',
            cell: (r) => (
              <span className="inline-flex items-center gap-2">
                <ProspectState of={r} />
                {r.tags.map((t) => (
                  <i
                    key={t.id}
                    title={t.name}
                    className={`inline-block size-[8px] border border-ink3 ${t.colour ? `tag-${t.colour}` : ''}`}
                  />
                ))}
              </span>
            ),
            width: '150px',
          },
          { head: 'Id', cell: (r) => <Code>{r.id}</Code>, figure: true, width: '86px' },
        ]}
      />
      <Bar>
        {may(inviteProspects) && (
          <>
            <Button look="main" keyName="I" disabled={!picked.length} onClick={() => setInviting(picked)}>
              Invite{picked.length > 1 ? ` ${picked.length}` : ''}
            </Button>
            <Button keyName="T" disabled={!picked.length} onClick={() => setTagging(picked)}>
              Tag{picked.length > 1 ? ` ${picked.length}` : ''}
            </Button>
          </>
        )}
        <span className="ml-auto text-ink2">
          {chosen.size > 0 ? `${chosen.size} selected · ` : ''}
          {first ? `${first.invitesLeft} messages left today · ` : ''}
          <kbd>J</kbd> <kbd>K</kbd> move · <kbd>X</kbd> select · <kbd>/</kbd> search
        </span>
      </Bar>
      {inviting && (
        <InviteDialog
          ids={inviting}
          onClose={() => setInviting(null)}
          onDone={() => {
            setInviting(null);
            chosen.clear();
          }}
        />
      )}
      {tagging && <TagDialog ids={tagging} tags={tags} onClose={() => setTagging(null)} />}
      {keys}
    </>
  );
}

const countries = [
  'AT',
  'AU',
  'BE',
  'CA',
  'CH',
  'CY',
  'CZ',
  'DE',
  'DK',
  'ES',
  'FI',
  'FR',
  'GB',
  'GR',
  'IE',
  'IT',
  'JP',
  'MT',
  'NL',
  'NO',
  'PL',
  'PT',
  'SE',
  'US',
];
