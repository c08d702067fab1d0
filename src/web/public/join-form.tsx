import { useState } from 'react';
import { useForm, type FieldErrors, type UseFormReturn } from 'react-hook-form';
import { type ReplyOf } from '../../contract/endpoint';
import { join, type readJoinPage } from '../../contract/recruit/applications';
import type { PracticeKey } from '../../core/recruiting/practices';
import { Button } from '../kit/button';
import { allCountries } from '../kit/countries';
import { Field, FormFault, placeFaults } from '../kit/form';
import { SelectOf } from '../kit/picked-fields';
import { useSend } from '../kit/send';
import { PracticesAsked } from './practices-asked';

interface Values {
  name: string;
  email: string;
  country: string;
  address: string;
  sites: string;
  channels: string;
  note: string;
  product: string;
  card: string;
}

type Asked = ReplyOf<typeof readJoinPage>['practices'];

export const p = join.body.properties;

type Self = ReplyOf<typeof readJoinPage>['self'];

const emptySelf = { name: '', email: '', country: '', address: '', sites: [], channels: '' };

/** What is known already of an affiliate who is signed in; nothing of anybody else. */
function valuesOf(self: Self, product: string): Values {
  const { name, email, country, address, sites, channels } = self ?? emptySelf;
  return {
    name,
    email,
    country,
    address,
    sites: sites.join(', '),
    channels,
    note: '',
    product,
    card: '',
  };
}

interface Chosen {
  /** null where nobody asked */
  ticked: PracticeKey[] | null;
  accepted: boolean;
  policy: number | null;
  by: string;
}

/** What is sent of the form. */
function bodyOf({ card, email, sites, ...typed }: Values, { ticked, accepted, policy, by }: Chosen) {
  return {
    ...typed,
    ...(card ? { card } : {}),
    ...(ticked ? { practices: ticked } : {}),
    ...(policy === null ? {} : { policy: accepted }),
    ...(by ? { by } : {}),
    email: email.trim(),
    sites: sites.split(/[\s,]+/).filter(Boolean),
  };
}

export function JoinForm({
  self,
  product,
  products,
  cards,
  policy,
  practices,
  group,
  by,
  onDone,
}: {
  practices: Asked;
  group: ReplyOf<typeof readJoinPage>['group'];
  self: Self;
  product: string;
  policy: number | null;
  by: string;
  products: { code: string; name: string }[];
  cards: { id: string; name: string; about: string }[];
  onDone: (said: { outcome: string; said: string }) => void;
}) {
  const [fault, setFault] = useState<string | null>(null);
  const send = useSend(join);
  const [accepted, setAccepted] = useState(false);
  const [unaccepted, setUnaccepted] = useState(false);
  const [ticked, setTicked] = useState<PracticeKey[]>([]);
  const {
    control,
    register,
    handleSubmit,
    setError,
    watch,
    formState: { errors, isSubmitting },
  } = useForm<Values>({
    defaultValues: valuesOf(self, product),
  });
  const input = { control, register, errors };
  return (
    <form
      noValidate
      className="mt-6 grid grid-cols-1 gap-x-5 gap-y-4 border border-rule bg-sheet p-5 sm:grid-cols-2"
      onSubmit={(e) =>
        void handleSubmit(async (v) => {
          setFault(null);
          if (policy !== null && !accepted) {
            setUnaccepted(true);
            return;
          }
          try {
            onDone(
              await send({
                body: bodyOf(v, { ticked: practices.length ? ticked : null, accepted, policy, by }),
              }),
            );
          } catch (thrown) {
            setFault(placeFaults(thrown, setError, Object.keys(p)));
          }
        })(e)
      }
    >
      <h2 className="sm:col-span-2">Apply</h2>
      {self && (
        <p className="text-ink2 sm:col-span-2">
          You are signed in as <b className="private">{self.name}</b>: what we know of you is filled in, and
          the answer comes at once.
        </p>
      )}
      <div className="sm:col-span-2">
        <FormFault>{fault}</FormFault>
      </div>
      <WhoYouAre input={input} />
      <PracticesAsked
        practices={practices}
        group={group}
        channels={watch('channels')}
        note={watch('note')}
        ticked={ticked}
        onTick={setTicked}
      />
      <SelectOf
        name="product"
        schema={p.product}
        label="For"
        options={[['', 'the whole programme'], ...products.map((x) => [x.code, x.name] as const)]}
        {...input}
      />
      {cards.length > 0 && (
        <SelectOf
          name="card"
          schema={p.card}
          options={[
            ['', 'as everybody'],
            ...cards.map((c) => [c.id, c.about ? `${c.name}: ${c.about}` : c.name] as const),
          ]}
          {...input}
          hint="What you are paid by"
        />
      )}
      <Accept
        policy={policy}
        accepted={accepted}
        unaccepted={unaccepted}
        setAccepted={setAccepted}
        setUnaccepted={setUnaccepted}
      />
      <div className="flex items-end justify-end">
        <Button type="submit" look="main" busy={isSubmitting}>
          Apply
        </Button>
      </div>
    </form>
  );
}

/** Who applies, and what they would do. */
function WhoYouAre({
  input,
}: {
  input: Pick<UseFormReturn<Values>, 'control' | 'register'> & { errors: FieldErrors<Values> };
}) {
  return (
    <>
      <Field
        name="name"
        schema={p.name}
        {...input}
        hint="You, or what your readers know you as"
        autoComplete="name"
      />
      <Field
        name="email"
        kind="email"
        schema={p.email}
        {...input}
        hint="The answer comes here"
        autoComplete="email"
      />
      <SelectOf
        name="country"
        schema={p.country}
        options={[['', 'choose yours…'], ...allCountries()]}
        {...input}
      />
      <Field name="address" schema={p.address} {...input} autoComplete="street-address" />
      <Field
        name="sites"
        schema={{ title: 'Your sites', examples: ['loamletters.example, blog.loamletters.example'] }}
        {...input}
        hint="Several: with commas between"
      />
      <Field name="channels" schema={p.channels} {...input} />
      <div className="sm:col-span-2">
        <Field
          name="note"
          kind="area"
          schema={p.note}
          {...input}
          hint="What would you do, for whom, and when? It helps more than numbers."
        />
      </div>
    </>
  );
}

/** Accepting the terms. */
function Accept({
  policy,
  accepted,
  unaccepted,
  setAccepted,
  setUnaccepted,
}: {
  policy: number | null;
  accepted: boolean;
  unaccepted: boolean;
  setAccepted: React.Dispatch<React.SetStateAction<boolean>>;
  setUnaccepted: React.Dispatch<React.SetStateAction<boolean>>;
}) {
  if (!(policy !== null)) return null;
  return (
    <div className="sm:col-span-2">
      <label className="flex items-start gap-2">
        <input
          type="checkbox"
          className="mt-1 accent-copper"
          checked={accepted}
          aria-invalid={unaccepted || undefined}
          onChange={(e) => {
            setAccepted(e.target.checked);
            setUnaccepted(false);
          }}
        />{' '}
        <span>
          I accept the{' '}
          <a className="link-lined" href="/policy-for-affiliates" target="_blank" rel="noreferrer">
            terms for affiliates
          </a>
          , version {policy}
        </span>
      </label>
      {unaccepted && (
        <p role="alert" className="text-madder">
          The terms have to be accepted to take part.
        </p>
      )}
    </div>
  );
}
