import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import {
  createKey,
  listReports,
  readConnection,
  readReport,
  renewKey,
  revealKey,
  switchPictures,
  type reportOutcomes,
} from '../../../../contract/track/connection';
import { formatAgo } from '../../../../core/calendar/format';
import { useAct } from '../../../kit/act';
import { call } from '../../../kit/api';
import { Button } from '../../../kit/button';
import { Choice } from '../../../kit/choice';
import { Copy } from '../../../kit/copy';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { DottedItem } from '../../../kit/dotted';
import { useKeys } from '../../../kit/keys';
import { useCursor, useList } from '../../../kit/lists';
import { Hint, Note } from '../../../kit/note';
import { Empty, Failed, Heading, Margin } from '../../../kit/place';
import { useProgramme } from '../../../kit/programme';
import { SearchField } from '../../../kit/search';
import { State } from '../../../kit/state';
import { Table } from '../../../kit/table';
import { Code, Moment, Sums } from '../../../kit/text';
import { useMay } from '../../roles';

type Outcome = (typeof reportOutcomes)[number];

/** The shop's connection: its health and keys in the margin, the log of every report in the middle. */
export default function Connection() {
  const [params, setParams] = useSearchParams();
  const outcome = (params.get('outcome') ?? '') as Outcome | '';
  const q = params.get('q') ?? '';
  const list = useList(listReports, { ...(outcome ? { outcome } : {}), ...(q ? { q } : {}) });
  const cursor = useCursor(list.rows, (r) => r.id);
  const [opened, setOpened] = useState<string | null>(null);
  const keys = useKeys([
    { key: 'j', what: 'next report', act: () => cursor.move(1) },
    { key: 'k', what: 'report before', act: () => cursor.move(-1) },
    { key: 'Enter', what: 'open as it came', act: () => setOpened(cursor.at) },
  ]);
  return (
    <div className="flex min-h-0 flex-1">
      <section className="flex min-w-0 flex-1 flex-col" aria-label="Connection">
        <Heading title="Connection" acts={<SearchField label="Reference or words" />}>
          <Choice
            label="Outcome"
            value={outcome}
            options={[
              ['', 'Every report'],
              ['recorded', 'Reports recorded'],
              ['unconfirmed', 'Sales known by a picture alone'],
              ['already-recorded', 'Repeats, counted once'],
              ['contradicts', 'Contradictions'],
              ['refused', 'Reports refused'],
              ['not-signed', 'Reports not signed'],
            ]}
            onChange={(v) =>
              setParams((p) => {
                const next = new URLSearchParams(p);
                if (v) next.set('outcome', v);
                else next.delete('outcome');
                return next;
              })
            }
          />{' '}
          of the shop, newest first
        </Heading>
        {list.failed ? (
          <Failed fault={list.failed} retry={list.again} />
        ) : (
          <Table
            label="Reports"
            rows={list.rows}
            idOf={(r) => r.id}
            at={cursor.at}
            onOpen={(r) => {
              cursor.setAt(r.id);
              setOpened(r.id);
            }}
            onEnd={list.onEnd}
            loading={list.loading}
            empty={
              <Empty title="No report yet">
                Make a key on the right, give it to the shop, and buy something in it. Each report appears
                here with its outcome in plain words.
              </Empty>
            }
            columns={[
              { head: 'When', cell: (r) => <Moment at={r.at} />, width: '150px' },
              { head: 'Call', cell: (r) => (r.way === 'picture' ? 'picture' : r.call), width: '70px' },
              { head: 'Reference', cell: (r) => <Code>{r.reference ?? '—'}</Code>, width: '90px' },
              { head: 'Outcome', cell: (r) => <State is={r.outcome} />, width: '160px' },
              { head: '', cell: (r) => <Code>{r.status}</Code>, width: '46px' },
              {
                head: 'In words',
                cell: (r) => (
                  <span title={r.said}>
                    {r.count > 1 && <b className="font-semibold">{r.count.toLocaleString('en-GB')} × </b>}
                    {r.said}
                  </span>
                ),
              },
            ]}
          />
        )}
      </section>
      <Health />
      <ReportDialog id={opened} onClose={() => setOpened(null)} />
      {keys}
    </div>
  );
}

function ReportDialog({ id, onClose }: { id: string | null; onClose: () => void }) {
  const query = useQuery({
    queryKey: ['report', id],
    queryFn: () => call(readReport, { params: { id: id! } }),
    enabled: id !== null,
  });
  const body = (() => {
    try {
      return JSON.stringify(JSON.parse(query.data?.body ?? ''), null, 2);
    } catch {
      return query.data?.body ?? '';
    }
  })();
  return (
    <Dialog
      wide
      open={id !== null}
      onClose={onClose}
      title={
        query.data
          ? `${query.data.way === 'picture' ? 'Picture' : `Report of ${query.data.call === 'order' ? 'an order' : 'a refund'}`} ${query.data.reference ?? ''}`
          : 'Report'
      }
      about={query.data && <>{query.data.said}</>}
    >
      {query.data && (
        <>
          <State is={query.data.outcome} /> <Code>{query.data.status}</Code> · <Moment at={query.data.at} />
          <pre
            tabIndex={0}
            className="mt-3 max-h-[44vh] overflow-auto border border-rule bg-paper p-3 font-mono text-[12px] whitespace-pre-wrap"
          >
            {body}
          </pre>
        </>
      )}
      <DialogFoot>
        {query.data && (
          <span className="mr-auto">
            <Copy text={body}>copy the body</Copy>
          </span>
        )}
        <Button onClick={onClose}>Close</Button>
      </DialogFoot>
    </Dialog>
  );
}

function Health() {
  const { now } = useProgramme();
  const may = useMay();
  const query = useQuery({ queryKey: ['connection'], queryFn: () => call(readConnection) });
  const [secret, setSecret] = useState<{ id: string; secret: string } | null>(null);
  const pictures = useAct(switchPictures, {
    done: (k) =>
      toast(
        k.pictures
          ? `${k.id} takes pictures; what they report is unconfirmed`
          : `${k.id} takes no pictures any more`,
      ),
  });
  const reveal = useAct(revealKey, { done: setSecret });
  const renew = useAct(renewKey, { done: setSecret });
  const make = useAct(createKey, {
    done: (r) => {
      reveal.mutate({ params: { id: r.id } });
      toast('A key was made');
    },
  });
  if (query.error)
    return (
      <Margin>
        <Failed fault={query.error} />
      </Margin>
    );
  if (!query.data)
    return (
      <Margin>
        <div className="skeleton" />
      </Margin>
    );
  const c = query.data;
  const ago = (at: number | null) => (at === null ? 'never' : formatAgo(at, now));
  return (
    <Margin width="w-[348px]">
      <h2>Health</h2>
      <div className="mt-1">
        <Sums
          rows={[
            { label: 'Last visit by a link', figure: ago(c.lastVisit) },
            { label: 'Last report', figure: ago(c.lastReport) },
            { label: 'Last new order', figure: ago(c.lastOrder) },
            ...Object.entries(c.counts).map(([o, n]) => ({
              label: <State is={o} />,
              figure: (
                <>
                  {n.toLocaleString('en-GB')} <span className="text-ink3">in 30 d</span>
                </>
              ),
            })),
          ]}
        />
      </div>
      {c.doubled > 0 && (
        <Note as="div" className="mt-3" role="status">
          <b className="font-semibold">Connected twice.</b> {c.doubled}{' '}
          {c.doubled === 1 ? 'order was' : 'orders were'} reported by the server and by the fallback picture
          in 30 days. Each counts once; take the picture off the pages that report by server.
        </Note>
      )}
      <h2 className="mt-5">Keys</h2>
      <ul>
        {c.keys.map((k) => (
          <DottedItem key={k.id}>
            {!k.readable && (
              <p role="status" className="border-l-[3px] border-madder bg-madder-wash px-2 py-1">
                Its secret cannot be read: the seal key was lost or replaced, so that every report signed with
                it is turned away. Bring seal.key back from a backup
                {may(renewKey) && (
                  <>
                    , or{' '}
                    <button
                      type="button"
                      className="link"
                      disabled={renew.isPending}
                      onClick={() => renew.mutate({ params: { id: k.id } })}
                    >
                      make the secret anew
                    </button>{' '}
                    and give it to the shop
                  </>
                )}
                .
              </p>
            )}
            <span className="flex justify-between">
              <span>
                <Code>{k.id}</Code> <span className="text-ink3">{k.label}</span>
              </span>
              {may(revealKey) && k.readable && (
                <button
                  type="button"
                  className="link"
                  onClick={() => reveal.mutate({ params: { id: k.id } })}
                >
                  secret
                </button>
              )}
            </span>
            <label className="flex items-center gap-2 text-ink2">
              <input
                type="checkbox"
                className="accent-copper"
                disabled={!may(switchPictures) || pictures.isPending}
                checked={k.pictures}
                onChange={(e) => pictures.mutate({ params: { id: k.id }, body: { on: e.target.checked } })}
              />{' '}
              takes fallback pictures
            </label>
          </DottedItem>
        ))}
      </ul>
      {c.keys.some((k) => k.pictures) && (
        <Hint className="mt-1">
          Anybody can load a picture: what it alone reports is{' '}
          <Link className="link" to="/sales?unconfirmed=1">
            unconfirmed
          </Link>{' '}
          and earns nobody anything.
        </Hint>
      )}
      {may(createKey) && (
        <Button
          className="mt-2"
          busy={make.isPending}
          onClick={() => make.mutate({ body: { label: 'Shop' } })}
        >
          Make a key
        </Button>
      )}
      <h2 className="mt-5">For the shop</h2>
      <p className="mt-1 text-ink2">
        Report each order to <Code>{c.address}/api/track/v1/orders</Code>, signed. The{' '}
        <a className="link" href="/api/openapi.json" target="_blank" rel="noreferrer">
          contract
        </a>{' '}
        names every value.
      </p>
      <p className="mt-2 text-ink2">
        On each page, so that the visit reaches the checkout: <Copy text={c.snippet}>copy the snippet</Copy>
      </p>
      <pre
        tabIndex={0}
        className="mt-1 overflow-auto border border-rule bg-sheet p-2 font-mono text-[11.5px]"
      >
        {c.snippet}
      </pre>
      <p className="mt-2 text-ink2">
        Where no server can report, the fallback picture on the thank-you page, for sales that wait for a
        person: <Copy text={c.picture}>copy it</Copy>
      </p>
      <h2 className="mt-5">Links may lead to</h2>
      <p className="mt-1 text-ink2">
        {c.landingHosts.join(', ') || 'no host yet: a product’s sales page adds its own'}
      </p>
      {c.shop && (
        <p className="mt-4">
          <a className="link" href={c.shop} target="_blank" rel="noreferrer">
            The shop stand-in
          </a>{' '}
          ·{' '}
          <a className="link" href={`${c.shop}/mailroom`} target="_blank" rel="noreferrer">
            mail room
          </a>{' '}
          ·{' '}
          <a className="link" href={`${c.shop}/bank`} target="_blank" rel="noreferrer">
            bank
          </a>
        </p>
      )}
      <Dialog
        wide
        open={secret !== null}
        onClose={() => setSecret(null)}
        title={`Key ${secret?.id ?? ''}`}
        about="Give both to the shop. Whoever has the secret can report sales."
      >
        <Sums
          rows={[
            {
              label: 'Key',
              figure: (
                <>
                  <Code>{secret?.id}</Code> {secret && <Copy text={secret.id} />}
                </>
              ),
            },
            {
              label: 'Secret',
              figure: (
                <>
                  <Code>{secret?.secret}</Code> {secret && <Copy text={secret.secret} />}
                </>
              ),
            },
          ]}
        />
        <DialogFoot>
          <Button onClick={() => setSecret(null)}>Close</Button>
        </DialogFoot>
      </Dialog>
    </Margin>
  );
}
