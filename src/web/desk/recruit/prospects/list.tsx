import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { inviteProspects, listProspects, tagProspects } from '../../../../contract/recruit/prospects';
import { useAddress } from '../../../kit/address';
import { Button } from '../../../kit/button';
import { useKeys } from '../../../kit/keys';
import { cursorKeys, searchKey, selectKeys } from '../../../kit/list-keys';
import { useCursor, useList } from '../../../kit/lists';
import { Bar, BarEnd, Empty, Failed, Heading } from '../../../kit/place';
import { SearchField } from '../../../kit/search';
import { selectColumn } from '../../../kit/select-column';
import { useSelection } from '../../../kit/selection';
import { Table } from '../../../kit/table';
import { useMay } from '../../roles';
import { setChoices, useSets } from '../../shared/sets';
import { prospectColumns } from './columns';
import { CopyState } from './copy';
import { filterIn, type Prospect } from './filter';
import { InviteDialog } from './invite';
import { ProspectSentence } from './sentence';
import { TagDialog } from './tags';

/** Partners of the registry: found, looked at, tagged and invited. */
export default function Prospects() {
  const address = useAddress();
  const navigate = useNavigate();
  const may = useMay();
  const query = filterIn(address.params);
  const list = useList(listProspects, query);
  const tags = setChoices(useSets(), 'tag');
  const cursor = useCursor(list.rows, (r) => r.id);
  const chosen = useSelection(list.rows, (r) => r.id);
  const [asked, ask] = useState<'invite' | 'tag' | null>(null);
  const open = (row: Prospect) => void navigate(`/prospects/${row.id}`);
  const at = cursor.row?.id ?? null;
  const picked = chosen.size ? [...chosen.ids] : at ? [at] : [];
  const keys = useKeys([
    ...cursorKeys(cursor, 'partner', open),
    ...selectKeys(at, chosen),
    {
      key: 'i',
      what: 'invite',
      act: () => {
        if (picked.length && may(inviteProspects)) ask('invite');
      },
    },
    {
      key: 't',
      what: 'tag',
      act: () => {
        if (picked.length && may(tagProspects)) ask('tag');
      },
    },
    searchKey,
  ]);
  if (list.failed) return <Failed fault={list.failed} retry={list.again} />;
  return (
    <>
      <Heading title="Prospects" acts={<ProspectActs />}>
        <ProspectSentence address={address} tags={tags} />
        {list.first && <CopyState copy={list.first.copy} />}
      </Heading>
      <Table
        label="Prospects"
        rows={list.rows}
        idOf={(r) => r.id}
        at={cursor.at}
        onOpen={open}
        onEnd={list.onEnd}
        loading={list.loading}
        empty={
          <Nobody connected={list.first?.copy.registry ?? true} searching={Object.keys(query).length > 0} />
        }
        columns={[selectColumn<Prospect>(chosen), ...prospectColumns(address.get('q') !== '')]}
      />
      <PickedBar
        picked={picked.length}
        selected={chosen.size}
        invitesLeft={list.first?.invitesLeft ?? null}
        ask={ask}
      />
      {asked && <AskedFor asked={asked} ids={picked} onClose={() => ask(null)} onDone={chosen.clear} />}
      {keys}
    </>
  );
}

function ProspectActs() {
  return (
    <>
      <SearchField label="Id, name, site or keyword" />
      <Link className="link self-center whitespace-nowrap" to="/prospects/invitations">
        Invitations
      </Link>
    </>
  );
}

/** What can be done with those who are picked. */
function PickedBar({
  picked,
  selected,
  invitesLeft,
  ask,
}: {
  picked: number;
  selected: number;
  invitesLeft: number | null;
  ask: (act: 'invite' | 'tag') => void;
}) {
  const may = useMay();
  const count = picked > 1 ? ` ${picked}` : '';
  return (
    <Bar>
      {may(inviteProspects) && (
        <>
          <Button look="main" keyName="I" disabled={!picked} onClick={() => ask('invite')}>
            Invite{count}
          </Button>
          <Button keyName="T" disabled={!picked} onClick={() => ask('tag')}>
            Tag{count}
          </Button>
        </>
      )}
      <BarEnd>
        {selected > 0 ? `${selected} selected · ` : ''}
        {invitesLeft === null ? '' : `${invitesLeft} messages left today · `}
        <kbd>J</kbd> <kbd>K</kbd> move · <kbd>X</kbd> select · <kbd>/</kbd> search
      </BarEnd>
    </Bar>
  );
}

/** The dialog of an act: whom it is for stays as it was when it was opened. */
function AskedFor({
  asked,
  ids,
  onClose,
  onDone,
}: {
  asked: 'invite' | 'tag';
  ids: string[];
  onClose: () => void;
  onDone: () => void;
}) {
  const [whom] = useState(ids);
  if (asked === 'tag') return <TagDialog ids={whom} onClose={onClose} />;
  const done = () => {
    onClose();
    onDone();
  };
  return <InviteDialog ids={whom} onClose={onClose} onDone={done} />;
}

function Nobody({ connected, searching }: { connected: boolean; searching: boolean }) {
  if (!connected)
    return (
      <Empty title="No registry is connected">
        With one, its partners are listed here to be found and invited. Your join address works without it.
      </Empty>
    );
  return (
    <Empty title={searching ? 'No partner fits' : 'Nothing has been read yet'}>
      {searching
        ? 'Try another part of the name, another of their sites, or fewer conditions.'
        : 'The registry is read in the background; this takes a few seconds.'}
    </Empty>
  );
}
