import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import {
  askRateBook,
  draftRate,
  draftSwitch,
  type DraftOut,
  type RateBookOut,
  type SetChange,
} from '../../../../contract/setup/rate-book';
import { counted } from '../../../../core/text/counted';
import { useAct } from '../../../kit/act';
import { call } from '../../../kit/api';
import { Button } from '../../../kit/button';
import { Labelled } from '../../../kit/labelled';
import { Failed, Margin, Skeleton } from '../../../kit/place';
import { useProgramme } from '../../../kit/programme';
import { Moment, Money } from '../../../kit/text';
import { WallField } from '../../../kit/wall-field';
import { LineOfWorking } from '../../../kit/working';
import { useMay } from '../../roles';
import { wallOf } from './draft';
import type { PlaceOfRate } from './rate-form';

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

/** The working of the chosen cell, for a value, a payment and a moment that can be asked for. */
export function CellMargin({ place, cell, row, column, payment, at, today, draft, onForm }: Props) {
  const { zone, base } = useProgramme();
  const may = useMay();
  const [value, setValue] = useState('');
  const [currency, setCurrency] = useState('');
  const [moment, setMoment] = useState(today ? '' : wallOf(at, zone));
  const [number, setNumber] = useState(payment);
  const [asking, setAsking] = useState(false);
  const query = {
    column: column.of,
    ...(column.id ? { who: column.id } : {}),
    ...(row.of === 'product' ? { product: row.id } : row.of === 'step' ? { step: row.id } : {}),
    event: place.event,
    ...(place.event === 'renewal' ? { payment: number } : {}),
    ...(value ? { value } : {}),
    ...(currency ? { currency } : {}),
    ...(moment ? { at: moment } : {}),
    ...(draft ? { draft: true } : {}),
  };
  const asked = useQuery({
    queryKey: ['ask', query, draft?.version ?? 0],
    queryFn: () => call(askRateBook, { query }),
    placeholderData: keepPreviousData,
    retry: false,
  });
  const change = useAct(draftSwitch);
  const answer = asked.data;
  return (
    <Margin width="w-[336px]">
      <h2>Working</h2>
      {answer && (
        <p className="text-ink2">
          <span className="private">{answer.who}</span> · {row.name} · <Money of={answer.value} />
        </p>
      )}
      {asked.isPending && <Skeleton lines={5} />}
      {asked.error && <Failed fault={asked.error} />}
      {answer && !asked.error && <LineOfWorking of={answer.lines[0]!} />}
      {answer?.exchange && <p className="mt-1 text-ink3">{answer.exchange}</p>}
      {may(draftRate) && (
        <div className="mt-4 flex flex-wrap gap-2">
          <Button keyName="E" onClick={() => onForm('base')}>
            Set a rate…
          </Button>
          <Button keyName="U" onClick={() => onForm('up-to')}>
            Plan an uplift…
          </Button>
          {cell.from === 'here' && cell.rate && cell.was === null && (
            <Button onClick={() => change.mutate({ body: { op: 'end', id: cell.rate! } })}>
              End this rate
            </Button>
          )}
          {row.lockable && (
            <Button
              onClick={() =>
                change.mutate({
                  body: {
                    op: 'lock',
                    id: row.id,
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
      )}
      <h2 className="mt-5">Ask the book</h2>
      {asking ? (
        <div className="mt-1 space-y-2">
          <div className="flex gap-2">
            <label className="flex-1 font-semibold text-ink2">
              Order value
              <input
                value={value}
                onChange={(e) => setValue(e.target.value)}
                placeholder="120.00"
                className="w-full rounded-sm border border-rule bg-sheet px-2 py-[5px] font-normal"
              />
            </label>
            <label className="w-20 font-semibold text-ink2">
              Currency
              <input
                value={currency}
                maxLength={3}
                onChange={(e) => setCurrency(e.target.value.toUpperCase())}
                placeholder={base}
                className="w-full rounded-sm border border-rule bg-sheet px-2 py-[5px] font-normal"
              />
            </label>
          </div>
          {place.event === 'renewal' && (
            <Labelled>
              Payment
              <input
                type="number"
                min={2}
                value={number}
                onChange={(e) => setNumber(Number(e.target.value) || 2)}
                className="w-full rounded-sm border border-rule bg-sheet px-2 py-[5px] font-normal"
              />
            </Labelled>
          )}
          <WallField label="Moment" value={moment} onChange={setMoment} empty="now" />
        </div>
      ) : (
        <p className="text-ink2">
          Another value, currency, payment or moment:{' '}
          <button type="button" className="link" onClick={() => setAsking(true)}>
            ask
          </button>
        </p>
      )}
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
    </Margin>
  );
}
