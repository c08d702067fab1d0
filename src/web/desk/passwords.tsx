import { useQueryClient } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { useForm } from 'react-hook-form';
import { useNavigate, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import type { Endpoint } from '../../contract/endpoint';
import * as session from '../../contract/session';
import { call } from '../kit/api';
import { Button } from '../kit/button';
import { Dialog, SubmitFoot } from '../kit/dialog';
import { Field, FormFault, placeFaults, resolverOf } from '../kit/form';

type Side = 'desk' | 'portal';
export const passwordHint =
  'At least twelve characters; four words that have nothing to do with each other are good';
const newPassword = session.setPortalPassword.body.properties.password;

/** Asks for a link to set a new password. The answer is the same whoever asks. */
export function ForgottenForm({ side, onBack }: { side: Side; onBack: () => void }) {
  const end = side === 'desk' ? session.forgotPassword : session.forgotPortalPassword;
  const [fault, setFault] = useState<string | null>(null);
  const [said, setSaid] = useState<string | null>(null);
  const {
    register,
    handleSubmit,
    setError,
    formState: { errors, isSubmitting },
  } = useForm<{ email: string }>({ resolver: resolverOf(end.body), defaultValues: { email: '' } });
  if (said)
    return (
      <>
        <p role="status" className="border-l-[3px] border-verdigris bg-verdigris-wash px-3 py-2">
          {said}
        </p>
        <button type="button" className="link mt-4" onClick={onBack}>
          Back to signing in
        </button>
      </>
    );
  return (
    <form
      className="space-y-3"
      noValidate
      onSubmit={(event) =>
        void handleSubmit(async (values) => {
          setFault(null);
          try {
            setSaid((await call(end, { body: values })).said);
          } catch (thrown) {
            setFault(placeFaults(thrown, setError, ['email']));
          }
        })(event)
      }
    >
      <FormFault>{fault}</FormFault>
      <Field
        name="email"
        kind="email"
        schema={end.body.properties.email}
        register={register}
        errors={errors}
        autoComplete="username"
        hint="A link to set a new one comes to this address"
      />
      <div className="flex items-baseline gap-4">
        <Button type="submit" look="main" busy={isSubmitting}>
          Send the link
        </Button>
        <button type="button" className="link" onClick={onBack}>
          Back to signing in
        </button>
      </div>
    </form>
  );
}

/** Sets a password with the link of a message, and goes in. */
export function SetByLink({
  side,
  title,
  frame,
}: {
  side: Side;
  title: string;
  frame: (title: string, children: ReactNode) => ReactNode;
}) {
  const [params] = useSearchParams();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [fault, setFault] = useState<string | null>(null);
  const end = side === 'desk' ? session.resetPassword : session.setPortalPassword;
  const {
    register,
    handleSubmit,
    setError,
    formState: { errors, isSubmitting },
  } = useForm<{ password: string }>({ defaultValues: { password: '' } });
  return frame(
    title,
    <form
      noValidate
      className="space-y-3"
      onSubmit={(event) =>
        void handleSubmit(async ({ password }) => {
          setFault(null);
          try {
            await call(end as Endpoint<never, never, typeof session.resetPassword.body, never>, {
              body: { token: params.get('token') ?? '', password },
            });
            await queries.resetQueries();
            void navigate(side === 'desk' ? '/' : '/portal', { replace: true });
          } catch (thrown) {
            setFault(placeFaults(thrown, setError, ['password']));
          }
        })(event)
      }
    >
      <FormFault>{fault}</FormFault>
      <Field
        name="password"
        kind="password"
        schema={newPassword}
        label="Choose a password"
        register={register}
        errors={errors}
        autoComplete="new-password"
        hint={passwordHint}
      />
      <Button type="submit" look="main" busy={isSubmitting}>
        Set it and go in
      </Button>
    </form>,
  );
}

/** Changes one's own password; whoever else is signed in with the old one is signed out. */
export function ChangePassword({ side, onClose }: { side: Side; onClose: () => void }) {
  const end = side === 'desk' ? session.changeOwnPassword : session.changePortalPassword;
  const [fault, setFault] = useState<string | null>(null);
  const {
    register,
    handleSubmit,
    setError,
    formState: { errors, isSubmitting },
  } = useForm<{ current: string; password: string }>({
    resolver: resolverOf(end.body),
    defaultValues: { current: '', password: '' },
  });
  const p = end.body.properties;
  return (
    <Dialog
      open
      onClose={onClose}
      title="Change your password"
      about="You stay signed in here; everywhere else you are signed out."
    >
      <form
        noValidate
        className="space-y-3"
        onSubmit={(event) =>
          void handleSubmit(async (values) => {
            setFault(null);
            try {
              await call(end, { body: values });
              toast('Your password is changed');
              onClose();
            } catch (thrown) {
              setFault(placeFaults(thrown, setError, ['current', 'password']));
            }
          })(event)
        }
      >
        <FormFault>{fault}</FormFault>
        <Field
          name="current"
          kind="password"
          schema={p.current}
          register={register}
          errors={errors}
          autoComplete="current-password"
        />
        <Field
          name="password"
          kind="password"
          schema={p.password}
          label="New password"
          register={register}
          errors={errors}
          autoComplete="new-password"
          hint={passwordHint}
        />
        <SubmitFoot onLeave={onClose} busy={isSubmitting}>
          Change it
        </SubmitFoot>
      </form>
    </Dialog>
  );
}
