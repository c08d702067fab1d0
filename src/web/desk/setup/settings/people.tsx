import { useQuery } from '@tanstack/react-query';
import { useContext, useState } from 'react';
import { useForm } from 'react-hook-form';
import { toast } from 'sonner';
import { type BodyOf } from '../../../../contract/endpoint';
import { addStaff, editStaff, listStaff } from '../../../../contract/setup/settings';
import { roles, type Role } from '../../../../core/access/lists';
import { useAct } from '../../../kit/act';
import { asking } from '../../../kit/asking';
import { Button } from '../../../kit/button';
import { Dialog, SubmitFoot } from '../../../kit/dialog';
import { Field, FormFault, placeFaults, resolverOf } from '../../../kit/form';
import { SelectOf } from '../../../kit/picked-fields';
import { Failed } from '../../../kit/place';
import { useRefresh } from '../../../kit/refresh';
import { Select } from '../../../kit/select';
import { useSend } from '../../../kit/send';
import { State } from '../../../kit/state';
import { Day } from '../../../kit/text';
import { PersonContext, useMay } from '../../roles';

const may: Record<Role, string> = {
  owner: 'everything',
  manager: 'all but payouts, staff and settings of money',
  finance: 'payouts, clearing and the ledger; reads the rest',
  viewer: 'reads',
};
type Values = BodyOf<typeof addStaff>;

export function People() {
  const allowed = useMay();
  const me = useContext(PersonContext);
  const people = useQuery(asking(listStaff));
  const edit = useAct(editStaff, { done: (r) => toast(`${r.name} is ${r.active ? r.role : 'closed'}`) });
  const [adding, setAdding] = useState(false);
  if (people.error) return <Failed fault={people.error} />;
  return (
    <div className="max-w-[860px]">
      <table className="table">
        <thead>
          <tr>
            <th>Name</th>
            <th>E-mail</th>
            <th>Role</th>
            <th>May</th>
            <th>State</th>
            <th className="figure">Since</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {people.data?.rows.map((r) => (
            <tr key={r.id}>
              <td className="private font-semibold">
                {r.name}
                {r.id === me.id && <span className="font-normal text-ink3"> (you)</span>}
              </td>
              <td className="private">{r.email}</td>
              <td>
                {allowed(editStaff) ? (
                  <Select
                    label={`Role of ${r.name}`}
                    value={r.role}
                    options={roles.map((x) => [x, x] as const)}
                    onPick={(role) =>
                      edit.mutate({
                        params: { id: r.id },
                        body: { role, active: r.active, version: r.version },
                      })
                    }
                    className="w-auto"
                  />
                ) : (
                  r.role
                )}
              </td>
              <td className="text-ink2">{may[r.role]}</td>
              <td>
                <State is={r.active ? 'active' : 'ended'} word={r.active ? 'active' : 'closed'} />
              </td>
              <td className="figure">
                <Day at={r.createdAt} />
              </td>
              <td className="figure">
                {allowed(editStaff) && r.id !== me.id && (
                  <button
                    type="button"
                    className="link"
                    onClick={() =>
                      edit.mutate({
                        params: { id: r.id },
                        body: { role: r.role, active: !r.active, version: r.version },
                      })
                    }
                  >
                    {r.active ? 'close' : 'open again'}
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {allowed(addStaff) && (
        <Button className="mt-4" look="main" onClick={() => setAdding(true)}>
          Add a person
        </Button>
      )}
      {adding && <AddDialog onClose={() => setAdding(false)} />}
    </div>
  );
}

function AddDialog({ onClose }: { onClose: () => void }) {
  const refresh = useRefresh();
  const [fault, setFault] = useState<string | null>(null);
  const send = useSend(addStaff);
  const {
    control,
    register,
    handleSubmit,
    setError,
    formState: { errors, isSubmitting },
  } = useForm<Values>({
    resolver: resolverOf(addStaff.body),
    defaultValues: { name: '', email: '', role: 'viewer', password: '' },
  });
  const p = addStaff.body.properties;
  return (
    <Dialog open onClose={onClose} title="Add a person" about="They sign in with this address and password.">
      <form
        noValidate
        className="space-y-3"
        onSubmit={(e) =>
          void handleSubmit(async (values) => {
            setFault(null);
            try {
              await send({ body: values });
              await refresh(addStaff);
              onClose();
            } catch (thrown) {
              setFault(placeFaults(thrown, setError, Object.keys(p)));
            }
          })(e)
        }
      >
        <FormFault>{fault}</FormFault>
        <Field name="name" schema={p.name} register={register} errors={errors} />
        <Field name="email" kind="email" schema={p.email} register={register} errors={errors} />
        <SelectOf
          name="role"
          schema={p.role}
          options={roles.map((r) => [r, `${r}: ${may[r]}`])}
          control={control}
          errors={errors}
        />
        <Field
          name="password"
          kind="password"
          schema={p.password}
          register={register}
          errors={errors}
          autoComplete="new-password"
          hint="At least twelve characters, to begin with: they change it to one that only they know"
        />
        <SubmitFoot onLeave={onClose} busy={isSubmitting}>
          Add
        </SubmitFoot>
      </form>
    </Dialog>
  );
}
