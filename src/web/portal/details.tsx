import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { toast } from 'sonner';
import type { BodyOf, ReplyOf } from '../../contract/endpoint';
import { readDetails, setDetails } from '../../contract/portal/portal';
import { readOwnProfile } from '../../contract/portal/profile';
import { chooseOwnLetters } from '../../contract/recruit/letters';
import { ChangePassword } from '../desk/passwords';
import { useAct } from '../kit/act';
import { asking } from '../kit/asking';
import { useBegun, useFollow, type Begun } from '../kit/begun';
import { Button } from '../kit/button';
import { Field, FormFault, placeFaults } from '../kit/form';
import { Failed, Skeleton } from '../kit/place';
import { useRefresh } from '../kit/refresh';
import { useSend } from '../kit/send';
import { usePortalBase } from './base';
import { Feeds } from './feeds';
import { OwnTerms } from './own-terms';
import { Profile } from './profile';
import { Sessions } from './sessions';

/** Where one is paid, who one is, on which terms, what one is sent, and where one is signed in. */
export function Details() {
  const query = useQuery(asking(readDetails));
  if (query.isPending) return <Skeleton />;
  if (query.error) return <Failed fault={query.error} retry={() => void query.refetch()} />;
  return (
    <>
      <h1>Details</h1>
      <div className="mt-4 grid gap-x-12 gap-y-8 lg:grid-cols-2">
        <div className="min-w-0 space-y-8">
          <DetailsForm details={query.data} />
          <Profile />
        </div>
        <div className="min-w-0 space-y-8">
          <OwnCard />
          <Letters on={query.data.letters} />
          <Feeds />
          <OwnPassword />
          <Sessions />
        </div>
      </div>
    </>
  );
}

/** The card and the group that one is on. */
function OwnCard() {
  const profile = useQuery(asking(readOwnProfile)).data;
  if (!profile?.promotes) return null;
  return (
    <section aria-labelledby="card">
      <h2 id="card">Your terms</h2>
      <OwnTerms place={profile.places} />
    </section>
  );
}

/** News by mail: wanted or not. */
function Letters({ on }: { on: boolean }) {
  const choose = useAct(chooseOwnLetters, {
    done: (r) => toast(r.on ? 'You get letters' : 'No more letters'),
  });
  return (
    <section aria-labelledby="letters">
      <h2 id="letters">Letters</h2>
      <label className="mt-1 flex items-start gap-2">
        <input
          type="checkbox"
          className="mt-1 accent-copper"
          checked={on}
          disabled={choose.isPending}
          onChange={(e) => choose.mutate({ body: { on: e.target.checked } })}
        />{' '}
        <span>News by mail. What concerns your payments and your terms comes in any case.</span>
      </label>
    </section>
  );
}

function OwnPassword() {
  const [changing, setChanging] = useState(false);
  const looking = usePortalBase() !== '/portal';
  if (looking) return null;
  return (
    <section aria-labelledby="password-head">
      <h2 id="password-head">Password</h2>
      <Button className="mt-2" onClick={() => setChanging(true)}>
        Change your password
      </Button>
      {changing && <ChangePassword side="portal" onClose={() => setChanging(false)} />}
    </section>
  );
}

interface Payee extends Record<string, unknown> {
  holder: string;
  iban: string;
  address: string;
}
const titles: Record<string, string> = { holder: 'Account holder', iban: 'IBAN', address: 'Address' };
/** What a form begins from; the account number in groups of four, as people read it. */
const begunFrom = ({ holder, iban, address, version }: ReplyOf<typeof readDetails>): Begun<Payee> => ({
  values: { holder, iban: iban.replace(/(.{4})(?=.)/g, '$1 '), address },
  version,
});

function DetailsForm({ details }: { details: ReplyOf<typeof readDetails> }) {
  const refresh = useRefresh();
  const [fault, setFault] = useState<string | null>(null);
  const base = useBegun<Payee>(begunFrom(details), (field) => titles[field] ?? field);
  const send = useSend(setDetails);
  const form = useForm({ defaultValues: { ...base.begun.values, password: '' } });
  const {
    register,
    handleSubmit,
    setError,
    setValue,
    reset,
    formState: { errors, isSubmitting, isDirty },
  } = form;
  const put = (field: string, value: unknown) =>
    setValue(field as keyof Payee & 'holder', value as string, { shouldDirty: true });
  const begin = (now: ReplyOf<typeof readDetails>) => {
    base.restart(begunFrom(now));
    reset({ ...begunFrom(now).values, password: '' });
  };
  useFollow(!isDirty && details.version > base.begun.version, () => begin(details));
  const p = setDetails.body.properties;
  return (
    <form
      noValidate
      className="space-y-4"
      onSubmit={(e) =>
        void handleSubmit(async (values) => {
          setFault(null);
          try {
            begin(
              await send({ body: { ...values, version: base.begun.version } as BodyOf<typeof setDetails> }),
            );
            await refresh(setDetails);
            toast('Your payout details are kept');
          } catch (thrown) {
            if (
              !base.overtake(
                thrown,
                (current) => begunFrom(current as ReplyOf<typeof readDetails>),
                { holder: values.holder, iban: values.iban, address: values.address },
                put,
              )
            )
              setFault(placeFaults(thrown, setError, ['holder', 'iban', 'address', 'password']));
          }
        })(e)
      }
    >
      <h2>Payout details</h2>
      <p className="text-ink2">
        Where your commissions are paid. A payment that is on its way already goes to the details it was made
        with.
      </p>
      <FormFault>{fault}</FormFault>
      {base.note(put)}
      <Field
        name="holder"
        schema={p.holder}
        register={register}
        errors={errors}
        hint="As the bank knows it"
        autoComplete="name"
      />
      <Field
        name="iban"
        schema={p.iban}
        register={register}
        errors={errors}
        hint="Its check digits are checked"
      />
      <Field
        name="address"
        schema={p.address}
        register={register}
        errors={errors}
        autoComplete="street-address"
      />
      <Field
        name="password"
        kind="password"
        schema={p.password}
        register={register}
        errors={errors}
        autoComplete="current-password"
        hint="Asked for again, so that nobody at an open browser can have your money paid elsewhere; you are told by mail"
      />
      <Button type="submit" look="main" busy={isSubmitting}>
        Keep them
      </Button>
    </form>
  );
}
