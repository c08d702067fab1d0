import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import type { BodyOf } from '../../../../contract/endpoint';
import { listExchange, setExchange } from '../../../../contract/setup/settings';
import { dayOf, startOfDay } from '../../../../core/calendar/zone';
import { asking } from '../../../kit/asking';
import { Button } from '../../../kit/button';
import { Field, FormFault, placeFaults, resolverOf } from '../../../kit/form';
import { Said } from '../../../kit/note';
import { DayOf } from '../../../kit/picked-fields';
import { useProgramme } from '../../../kit/programme';
import { useRefresh } from '../../../kit/refresh';
import { useSend } from '../../../kit/send';
import { useMay } from '../../roles';

type Values = BodyOf<typeof setExchange>;

/** Exchange rates: what one unit of the base currency buys, from a day on. */
export function ExchangeSection() {
  const { base, day, now, zone } = useProgramme();
  const may = useMay()(setExchange);
  const refresh = useRefresh();
  const rates = useQuery(asking(listExchange));
  const [fault, setFault] = useState<string | null>(null);
  const send = useSend(setExchange);
  const {
    control,
    register,
    handleSubmit,
    setError,
    reset,
    formState: { errors, isSubmitting },
  } = useForm<Values>({
    resolver: resolverOf(setExchange.body),
    defaultValues: { currency: '', day: dayOf(now, zone), rate: '' },
  });
  const p = setExchange.body.properties;
  return (
    <section className="mt-8 max-w-[760px]" aria-label="Exchange rates">
      <h2>Exchange rates</h2>
      <Said>
        Orders in another currency are converted at the rate of their day. A rate stored with an order stays
        with it.
      </Said>
      <table className="mt-2 table">
        <thead>
          <tr>
            <th>One {base} buys</th>
            <th className="figure">Rate</th>
            <th className="figure">From</th>
          </tr>
        </thead>
        <tbody>
          {rates.data?.rows.map((r) => (
            <tr key={r.currency}>
              <td>{r.currency}</td>
              <td className="figure">{r.rate}</td>
              <td className="figure">{day(startOfDay(r.day, zone))}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {rates.data?.rows.length === 0 && (
        <Said gap={2} faint>
          None: orders in other currencies are refused until a rate is entered.
        </Said>
      )}
      {may && (
        <form
          noValidate
          className="mt-3 grid grid-cols-[120px_160px_160px_auto] items-start gap-3"
          onSubmit={(e) =>
            void handleSubmit(async (values) => {
              setFault(null);
              try {
                await send({ body: values });
                reset();
                await refresh(setExchange);
              } catch (thrown) {
                setFault(placeFaults(thrown, setError, ['currency', 'day', 'rate']));
              }
            })(e)
          }
        >
          <Field name="currency" schema={p.currency} register={register} errors={errors} />
          <DayOf name="day" schema={p.day} control={control} errors={errors} />
          <Field name="rate" schema={p.rate} register={register} errors={errors} />
          <Button type="submit" className="mt-[22px]" busy={isSubmitting}>
            Set the rate
          </Button>
          <FormFault>{fault}</FormFault>
        </form>
      )}
    </section>
  );
}
