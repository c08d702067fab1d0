import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { readOwnProfile, setOwnProfile, type OwnProfile } from '../../contract/portal/profile';
import { asking } from '../kit/asking';
import { type Begun } from '../kit/begun';
import { Button } from '../kit/button';
import { Field, FormFault, placeFaults } from '../kit/form';
import { useKeptForm } from '../kit/kept-form';
import { useProgramme } from '../kit/programme';
import { useRefresh } from '../kit/refresh';
import { useSend } from '../kit/send';
import { Day, Strong } from '../kit/text';
import { useLooking } from './base';

type Typed = Pick<OwnProfile, 'name' | 'address' | 'audience'>;
const titles: Record<keyof Typed, string> = {
  name: 'Name',
  address: 'Postal address',
  audience: 'How you promote',
};
const begunFrom = ({ name, address, audience, version }: OwnProfile): Begun<Typed> => ({
  values: { name, address, audience },
  version,
});

/** Who one is to the merchant: what can be changed by oneself, and what was looked at when one was approved. */
export function Profile() {
  const profile = useQuery(asking(readOwnProfile)).data;
  if (!profile) return null;
  return (
    <section aria-labelledby="profile">
      <h2 id="profile">Who you are to us</h2>
      <Known profile={profile} />
      <ProfileForm key={profile.handle} profile={profile} />
    </section>
  );
}

function Known({ profile: { email, country, sites, joinedAt, handle } }: { profile: OwnProfile }) {
  const looking = useLooking();
  return (
    <p className="mt-1 text-ink2">
      <Strong>{handle}</Strong>
      {joinedAt !== null && (
        <>
          , with us since <Day at={joinedAt} />
        </>
      )}
      ; <span className="private">{email}</span>
      {country && `, ${country}`}
      {sites.length > 0 && (
        <>
          ; promotes on <span className="private">{sites.join(', ')}</span>
        </>
      )}
      .{!looking && ' To change these, write to us.'}
    </p>
  );
}

function ProfileForm({ profile }: { profile: OwnProfile }) {
  const { name: programme } = useProgramme();
  const looking = useLooking();
  const refresh = useRefresh();
  const send = useSend(setOwnProfile);
  const [fault, setFault] = useState<string | null>(null);
  const { form, edit, put, begin } = useKeptForm<Typed>({
    name: `profile ${programme} ${profile.handle}`,
    now: begunFrom(profile),
    title: (field) => titles[field as keyof Typed] ?? field,
    may: !looking,
  });
  const {
    register,
    handleSubmit,
    setError,
    formState: { errors, isSubmitting, isDirty },
  } = form;
  const save = async (values: Typed) => {
    setFault(null);
    try {
      begin(begunFrom(await send({ body: { ...values, version: edit.begun.version } })));
      await refresh(setOwnProfile);
      toast('Kept');
    } catch (thrown) {
      const isOvertaken = edit.overtake(thrown, (now) => begunFrom(now as OwnProfile), values, put);
      if (!isOvertaken) setFault(placeFaults(thrown, setError, ['name', 'address', 'audience']));
    }
  };
  const p = setOwnProfile.body.properties;
  const common = { register, errors };
  return (
    <form noValidate className="mt-3 space-y-3" onSubmit={(e) => void handleSubmit(save)(e)}>
      <FormFault>{fault}</FormFault>
      {edit.note(put)}
      <Field name="name" schema={p.name} autoComplete="organization" {...common} />
      <Field name="address" schema={p.address} autoComplete="street-address" {...common} />
      <Field name="audience" kind="area" schema={p.audience} {...common} />
      {!looking && (
        <Button type="submit" busy={isSubmitting} disabled={!isDirty}>
          Keep it
        </Button>
      )}
    </form>
  );
}
