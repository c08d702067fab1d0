import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { listReports, readReport } from '../../../../contract/track/connection';
import type { Id } from '../../../../core/text/id';
import type { reportOutcomes } from '../../../../core/tracking/lists';
import { asking } from '../../../kit/asking';
import { Button } from '../../../kit/button';
import { Choice } from '../../../kit/choice';
import { Copy } from '../../../kit/copy';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { useKeys } from '../../../kit/keys';
import { Column, Split } from '../../../kit/layout';
import { useCursor, useList } from '../../../kit/lists';
import { Empty, Failed, Heading } from '../../../kit/place';
import { SearchField } from '../../../kit/search';
import { State } from '../../../kit/state';
import { Table } from '../../../kit/table';
import { Code, Moment } from '../../../kit/text';
import { Health } from './health';

type Outcome = (typeof reportOutcomes)[number];

/** The shop's connection: its health and keys in the margin, the log of every report in the middle. */
export default function Connection() {
  const [params, setParams] = useSearchParams();
  const outcome = (params.get('outcome') ?? '') as Outcome | '';
  const q = params.get('q') ?? '';
  const list = useList(listReports, { ...(outcome ? { outcome } : {}), ...(q ? { q } : {}) });
  const cursor = useCursor(list.rows, (r) => r.id);
  const [opened, setOpened] = useState<Id<'report'> | null>(null);
  const keys = useKeys([
    { key: 'j', what: 'next report', act: () => cursor.move(1) },
    { key: 'k', what: 'report before', act: () => cursor.move(-1) },
    { key: 'Enter', what: 'open as it came', act: () => setOpened(cursor.at) },
  ]);
  return (
    <Split>
      <Column aria-label="Connection">
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
                  <span className="private" title={r.said}>
                    {r.count > 1 && <b className="font-semibold">{r.count.toLocaleString('en-GB')} × </b>}
                    {r.said}
                  </span>
                ),
              },
            ]}
          />
        )}
      </Column>
      <Health />
      <ReportDialog id={opened} onClose={() => setOpened(null)} />
      {keys}
    </Split>
  );
}

function ReportDialog({ id, onClose }: { id: Id<'report'> | null; onClose: () => void }) {
  const query = useQuery({
    ...asking(readReport, { params: { id: id! } }),
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
      about={query.data && <span className="private">{query.data.said}</span>}
    >
      {query.data && (
        <>
          <State is={query.data.outcome} /> <Code>{query.data.status}</Code> · <Moment at={query.data.at} />
          <pre
            tabIndex={0}
            className="private mt-3 max-h-[44vh] overflow-auto border border-rule bg-paper p-3 font-mono text-[12px] whitespace-pre-wrap"
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
