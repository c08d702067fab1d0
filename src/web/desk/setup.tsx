import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import type { BodyOf } from '../../contract/endpoint';
import { setUp } from '../../contract/session';
import { currencies } from '../../core/money/currency';
import { Button } from '../kit/button';
import { Field, FormFault, placeFaults, resolverOf } from '../kit/form';
import { Page } from '../kit/layout';
import { SelectOf } from '../kit/picked-fields';
import { useSend } from '../kit/send';
import { Small } from '../kit/text';
import { passwordHint } from './passwords';
import { WordMark } from './word-mark';

type Values = BodyOf<typeof setUp>;
const fields = setUp.body.properties;
const zones = Intl.supportedValuesOf('timeZone');

/** First-run set-up: one short path, the rest has safe defaults. */
export function SetUp() {
  const queries = useQueryClient();
  const [fault, setFault] = useState<string | null>(null);
  const send = useSend(setUp);
  const {
    control,
    register,
    handleSubmit,
    setError,
    formState: { errors, isSubmitting },
  } = useForm<Values>({
    resolver: resolverOf(setUp.body),
    defaultValues: {
      merchant: '',
      contact: '',
      currency: 'EUR',
      zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
      owner: '',
      email: '',
      password: '',
      tryOut: true,
    },
  });
  return (
    <Page>
      <form
        noValidate
        className="mx-auto my-[7vh] w-[min(640px,92vw)]"
        onSubmit={(event) =>
          void handleSubmit(async (values) => {
            setFault(null);
            try {
              await send({ body: values });
              await queries.resetQueries();
            } catch (thrown) {
              setFault(placeFaults(thrown, setError, Object.keys(fields)));
            }
          })(event)
        }
      >
        <WordMark />
        <h1 className="mt-6">Set up your programme</h1>
        <p className="mt-1 mb-5 max-w-[60ch] text-ink2">
          Six things, and you are at your desk. Everything else has a safe default and can be changed under
          Settings; currency and time zone stay as they are.
        </p>
        <FormFault>{fault}</FormFault>
        <div className="mt-3 grid grid-cols-2 gap-x-5 gap-y-4 border border-rule bg-sheet p-5">
          <Field
            name="merchant"
            schema={fields.merchant}
            register={register}
            errors={errors}
            hint="Affiliates read it on the join page and in every message"
          />
          <Field
            name="contact"
            kind="email"
            schema={fields.contact}
            register={register}
            errors={errors}
            hint="Where their questions go"
          />
          <SelectOf
            name="currency"
            schema={fields.currency}
            options={currencies.map((c) => [c, c] as const)}
            control={control}
            errors={errors}
            hint="Of the ledger, of reports and of payouts"
          />
          <SelectOf
            name="zone"
            schema={fields.zone}
            options={zones.map((z) => [z, z] as const)}
            control={control}
            errors={errors}
            hint="Days, holds and reports are cut in it"
          />
          <div className="col-span-2 border-t border-rule2" />
          <Field name="owner" schema={fields.owner} register={register} errors={errors} autoComplete="name" />
          <Field
            name="email"
            kind="email"
            schema={fields.email}
            register={register}
            errors={errors}
            autoComplete="username"
            hint="You sign in with it"
          />
          <Field
            name="password"
            kind="password"
            schema={fields.password}
            register={register}
            errors={errors}
            autoComplete="new-password"
            hint={passwordHint}
          />
          <label className="mt-6 flex items-start gap-2">
            <input type="checkbox" className="mt-[3px] accent-copper" {...register('tryOut')} />
            <span>
              Try it out with the stand-ins
              <br />
              <Small>A shop, a bank, a mail room and a clock to move on. Leave it off for real trade.</Small>
            </span>
          </label>
        </div>
        <Button type="submit" look="main" className="mt-4" busy={isSubmitting}>
          Set up
        </Button>
      </form>
    </Page>
  );
}
