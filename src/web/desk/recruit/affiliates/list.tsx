import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { doBulk, exportAffiliates, listAffiliates, listSegments } from '../../../../contract/recruit/roster';
import { rosterColumns, type RosterColumn } from '../../../../core/recruiting/roster';
import { useAddress } from '../../../kit/address';
import { addressOf } from '../../../kit/api';
import { asking } from '../../../kit/asking';
import { useKeys } from '../../../kit/keys';
import { cursorKeys, searchKey } from '../../../kit/list-keys';
import { useCursor, useList } from '../../../kit/lists';
import { TickMenu } from '../../../kit/menu';
import { Empty, Failed, Heading } from '../../../kit/place';
import { SearchField } from '../../../kit/search';
import { selectColumn } from '../../../kit/select-column';
import { Table } from '../../../kit/table';
import { useMay } from '../../roles';
import { useSets } from '../../shared/sets';
import { BulkDialog, type BulkProps } from './acts/bulk';
import { usePicked, type Acting } from './acts/many';
import { ManyBar } from './acts/many-bar';
import { MessageDialog } from './acts/message';
import { ImportDialog } from './acts/read-in';
import { SegmentsBar } from './acts/segments';
import { rosterTable } from './columns';
import { columnsIn, columnsText, filterIn, sortIn, type RosterRow } from './filter';
import { RosterSentence } from './sentence';

/** The roster: a filter as a sentence, the columns that are wanted, acts on many, lists in and out. */
export default function Affiliates() {
  const address = useAddress(() => picked.clear());
  const may = useMay();
  const navigate = useNavigate();
  const { filter, columns, list, total, staff, practices } = useRoster(address.params);
  const sets = useSets();
  const cursor = useCursor(list.rows, (r) => r.id);
  const picked = usePicked(list.rows, cursor.row?.id ?? null);
  const [acting, setActing] = useState<Acting | null>(null);
  const open = (row: RosterRow) => void navigate(`/affiliates/${row.id}`);
  const whom = picked.whom(filter);
  const begin = (what: Acting) => {
    if (whom && may(doBulk)) setActing(what);
  };
  const keys = useKeys([
    ...cursorKeys(cursor, 'affiliate', open),
    ...picked.keys,
    { key: 'g', what: 'put into a group', act: () => begin('group') },
    { key: 't', what: 'tag', act: () => begin('tag-on') },
    { key: 'c', what: 'put on a rate card', act: () => begin('card') },
    { key: 'm', what: 'write to them', act: () => begin('message') },
    { key: 'p', what: 'pause', act: () => begin('pause') },
    searchKey,
  ]);
  if (list.failed) return <Failed fault={list.failed} retry={list.again} />;
  return (
    <>
      <Heading title="Affiliates" acts={<RosterActs address={address} />}>
        <RosterSentence {...{ address, sets, staff, practices, total }} />
        <Segments address={address} />
      </Heading>
      <Table
        label="Affiliates"
        rows={list.rows}
        idOf={(r) => r.id}
        at={cursor.at}
        onOpen={open}
        onEnd={list.onEnd}
        loading={list.loading}
        columns={[selectColumn<RosterRow>(picked), ...rosterTable(columns)]}
        empty={<Nobody narrowed={Object.keys(filter).length > 0} />}
      />
      {may(doBulk) && <ManyBar off={!whom} begin={begin} selected={picked.words(total)} />}
      {acting && whom && (
        <ActOnMany
          acting={acting}
          whom={whom}
          count={picked.count(total)}
          staff={staff}
          onClose={() => setActing(null)}
          onDone={picked.clear}
        />
      )}
      {keys}
    </>
  );
}

/** Those who fit the address, how many they are, and whom they can be looked after by. */
function useRoster(params: URLSearchParams) {
  const filter = filterIn(params);
  const sort = sortIn(params);
  const list = useList(listAffiliates, { ...filter, ...(sort === 'newest' ? { sort } : {}) });
  const first = list.first ?? { total: list.rows.length, staff: [], practices: [] };
  const { total, staff, practices } = first;
  return { filter, columns: columnsIn(params), list, total, staff, practices };
}

/** The dialog of an act on those who are picked. */
function ActOnMany({ acting, onClose, onDone, ...many }: Omit<BulkProps, 'what'> & { acting: Acting }) {
  if (acting === 'message') return <MessageDialog whom={many.whom} onClose={onClose} />;
  const done = () => {
    onClose();
    onDone();
  };
  return <BulkDialog what={acting} {...many} onClose={onClose} onDone={done} />;
}

type Address = ReturnType<typeof useAddress>;

/** Search, the list as a file, a list read in, and which columns are shown. */
function RosterActs({ address }: { address: Address }) {
  const may = useMay();
  const [reading, setReading] = useState(false);
  const columns = columnsIn(address.params);
  const exported = {
    ...filterIn(address.params),
    sort: sortIn(address.params),
    columns: columns.join(','),
  };
  return (
    <>
      <SearchField label="Name, site or address" />
      <a className="link-level" href={addressOf(exportAffiliates, {}, exported)} download>
        CSV
      </a>
      {may(doBulk) && (
        <button type="button" className="link" onClick={() => setReading(true)}>
          Read in…
        </button>
      )}
      <TickMenu
        trigger={
          <button type="button" className="link-level">
            Columns
          </button>
        }
        items={Object.entries(rosterColumns) as [RosterColumn, string][]}
        ticked={columns}
        onChange={(ticked) => address.set('columns', columnsText(ticked))}
      />
      {reading && <ImportDialog onClose={() => setReading(false)} />}
    </>
  );
}

/** The filters that were saved by a name. */
function Segments({ address }: { address: Address }) {
  const segments = useQuery(asking(listSegments));
  return (
    <SegmentsBar
      segments={segments.data?.rows ?? []}
      filter={filterIn(address.params)}
      columns={columnsIn(address.params)}
      onPick={(s) => {
        const next = new URLSearchParams(s.filter as Record<string, string>);
        const columns = columnsText(s.columns);
        if (columns) next.set('columns', columns);
        address.replace(next);
      }}
    />
  );
}

function Nobody({ narrowed }: { narrowed: boolean }) {
  if (narrowed)
    return (
      <Empty title="Nobody fits">
        Take a condition out of the sentence, or try another part of the name or site.
      </Empty>
    );
  return (
    <Empty title="No affiliate yet">
      People who apply on the join page appear here; a list can be read in;{' '}
      <Link className="link-lined" to="/prospects">
        prospects
      </Link>{' '}
      can be invited.
    </Empty>
  );
}
