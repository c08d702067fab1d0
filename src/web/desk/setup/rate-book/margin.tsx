import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import type { QueryOf, ReplyOf } from '../../../../contract/endpoint';
import {
  askRateBook,
  draftRate,
  draftSwitch,
  type DraftOut,
  type RateBookOut,
  type SetChange,
} from '../../../../contract/setup/rate-book';
import { wallOf } from '../../../../core/calendar/wall';
import { counted } from '../../../../core/text/counted';
import { isId } from '../../../../core/text/id';
import { useAct } from '../../../kit/act';
import { asking } from '../../../kit/asking';
import { Button } from '../../../kit/button';
import { TextLine } from '../../../kit/inputs';
import { Labelled } from '../../../kit/labelled';
import { Said } from '../../../kit/note';
import { Failed, Margin, Skeleton } from '../../../kit/place';
import { useProgramme } from '../../../kit/programme';
import { Moment, Money } from '../../../kit/text';
import { WallField } from '../../../kit/wall-field';
import { LineOfWorking } from '../../../kit/working';
import { useMay } from '../../roles';
import type { PlaceOfRate } from './rate-typed';

type Row = RateBookOut['rows'][number];
interface Props {
  place: PlaceOfRate;
  cell: Row['cells'][number];
  row: Row;
  column: RateBookOut['columns'][number];
  payment: number;
  at: number;
  today: boolean;
  draft: DraftOut | null;
  onForm: (mode: SetChange['mode']) => void;
}

type Answer = ReplyOf<typeof askRateBook>;

/** What else the book is asked for than the cell itself: '' is what it is anyway. */
interface Asked {
  value: string;
  currency: string;
  moment: string;
  payment: number;
}

/** The question to the book about a cell. */
function queryOf(
  place: PlaceOfRate,
  row: Row,
  asked: Asked,
  draft: DraftOut | null,
): QueryOf<typeof askRateBook> {
  const { column } = place;
  return {
    column: column.of,
    ...(column.id ? { who: column.id } : {}),
    ...(isId(row.id, 'product') ? { product: row.id } : row.of === 'step' ? { step: row.id } : {}),
    event: place.event,
    ...(place.event === 'renewal' ? { payment: asked.payment } : {}),
    ...given(asked),
    ...(draft ? { draft: true } : {}),
  };
}

const given = ({ value, currency, moment }: Asked) => ({
  ...(value ? { value } : {}),
  ...(currency ? { currency } : {}),
  ...(moment ? { at: moment } : {}),
});

/** The working of the chosen cell, for a value, a payment and a moment that can be asked for. */
export function CellMargin({ place, cell, row, column, payment, at, today, draft, onForm }: Props) {
  const { zone } = useProgramme();
  const [asked, setAsked] = useState<Asked>({
    value: '',
    currency: '',
    moment: today ? '' : wallOf(at, zone),
    payment,
  });
  const query = queryOf(place, row, asked, draft);
  const found = useQuery({
    ...asking(askRateBook, { query }, draft?.version ?? 0),
    placeholderData: keepPreviousData,
    retry: false,
  });
  const answer = found.data;
  return (
    <Margin width="w-[336px]">
      <h2>Working</h2>
      {answer && (
        <p className="text-ink2">
          <span className="private">{answer.who}</span> · {row.name} · <Money value={answer.value} />
        </p>
      )}
      {found.isPending && <Skeleton lines={5} />}
      {found.error && <Failed fault={found.error} />}
      {answer && !found.error && <LineOfWorking of={answer.lines[0]!} />}
      {answer?.exchange && <Said faint>{answer.exchange}</Said>}
      <CellActs onForm={onForm} cell={cell} row={row} place={place} />
      <h2 className="mt-5">Ask the book</h2>
      <AskFor asked={asked} onChange={setAsked} renewal={place.event === 'renewal'} />
      <WhoThisIs column={column} answer={answer} />
    </Margin>
  );
}

/** What can be changed in this cell. */
function CellActs({
  onForm,
  cell,
  row,
  place,
}: {
  onForm: Props['onForm'];
  cell: Props['cell'];
  row: Row;
  place: PlaceOfRate;
}) {
  const may = useMay();
  const change = useAct(draftSwitch);
  if (!may(draftRate)) return null;
  const product = isId(row.id, 'product') ? row.id : null;
  return (
    <div className="mt-4 flex flex-wrap gap-2">
      <Button keyName="E" onClick={() => onForm('base')}>
        Set a rate…
      </Button>
      <Button keyName="U" onClick={() => onForm('up-to')}>
        Plan an uplift…
      </Button>
      {cell.from === 'here' && cell.rate && cell.was === null && (
        <Button onClick={() => change.mutate({ body: { op: 'end', id: cell.rate! } })}>End this rate</Button>
      )}
      {row.lockable && product && (
        <Button
          onClick={() =>
            change.mutate({
              body: {
                op: 'lock',
                id: product,
                event: place.event === 'renewal' ? 'renewal' : 'sale',
                on: !cell.locked,
              },
            })
          }
        >
          {cell.locked ? 'Unlock' : 'Lock'} {place.event === 'renewal' ? 'renewals' : 'first payments'}
        </Button>
      )}
    </div>
  );
}

/** Who the column is, and where more of it stands. */
function WhoThisIs({ column, answer }: { column: Props['column']; answer: Answer | undefined }) {
  return (
    <>
      <h2 className="mt-5">Who this is</h2>
      <p className="text-ink2">
        {counted(column.members, 'affiliate')}
        {column.next && (
          <>
            {' '}
            · next change <Moment at={column.next} />
          </>
        )}
        {answer?.about.map((a) => (
          <span key={a}> · {a}</span>
        ))}
      </p>
      {column.of === 'affiliate' && (
        <p>
          <Link className="link" to={`/affiliates/${column.id}`}>
            the affiliate’s page
          </Link>
        </p>
      )}
      {(column.of === 'card' || column.of === 'group' || column.of === 'tag') && (
        <p>
          <Link className="link" to={`/rates/sets/${column.id}`}>
            members and settings
          </Link>
        </p>
      )}
    </>
  );
}

/** Another value, currency, payment or moment to ask the book for. */
function AskFor({
  asked,
  onChange,
  renewal,
}: {
  asked: Asked;
  onChange: (asked: Asked) => void;
  renewal: boolean;
}) {
  const { base } = useProgramme();
  const [open, setOpen] = useState(false);
  if (!open)
    return (
      <p className="text-ink2">
        Another value, currency, payment or moment:{' '}
        <button type="button" className="link" onClick={() => setOpen(true)}>
          ask
        </button>
      </p>
    );
  return (
    <div className="mt-1 space-y-2">
      <div className="flex gap-2">
        <label className="flex-1 font-semibold text-ink2">
          Order value
          <TextLine
            value={asked.value}
            onText={(value) => onChange({ ...asked, value })}
            placeholder="120.00"
          />
        </label>
        <label className="w-20 font-semibold text-ink2">
          Currency
          <TextLine
            value={asked.currency}
            maxLength={3}
            onText={(text) => onChange({ ...asked, currency: text.toUpperCase() })}
            placeholder={base}
          />
        </label>
      </div>
      {renewal && (
        <Labelled>
          Payment
          <TextLine
            type="number"
            min={2}
            value={asked.payment}
            onText={(text) => onChange({ ...asked, payment: Number(text) || 2 })}
          />
        </Labelled>
      )}
      <WallField
        label="Moment"
        value={asked.moment}
        onChange={(moment) => onChange({ ...asked, moment })}
        empty="now"
      />
    </div>
  );
}
