import { useQueryClient } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { useForm } from 'react-hook-form';
import { signIn, signInPortal } from '../../contract/session';
import { call } from '../kit/api';
import { Button } from '../kit/button';
import { Field, FormFault, placeFaults, resolverOf } from '../kit/form';
import { ForgottenForm, SetByLink } from './passwords';
import { WordMark } from './word-mark';

interface Values {
  email: string;
  password: string;
}

/** Address and password, for the desk or the portal. */
export function SignInForm({ side, onDone }: { side: 'desk' | 'portal'; onDone: () => void }) {
  const end = side === 'desk' ? signIn : signInPortal;
  const {
    register,
    handleSubmit,
    setError,
    formState: { errors, isSubmitting },
  } = useForm<Values>({ resolver: resolverOf(end.body), defaultValues: { email: '', password: '' } });
  const [fault, setFault] = useState<string | null>(null);
  return (
    <form
      className="space-y-3"
      noValidate
      onSubmit={(event) =>
        void handleSubmit(async (values) => {
          setFault(null);
          try {
            await call(end, { body: values });
            onDone();
          } catch (thrown) {
            setFault(placeFaults(thrown, setError, ['email', 'password']));
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
      />
      <Field
        name="password"
        kind="password"
        schema={end.body.properties.password}
        register={register}
        errors={errors}
        autoComplete="current-password"
      />
      <Button type="submit" look="main" busy={isSubmitting}>
        Sign in
      </Button>
    </form>
  );
}

/** Signing in, or asking for a new password. */
export function SignInOrForgotten({
  side,
  onDone,
  frame,
}: {
  side: 'desk' | 'portal';
  onDone: () => void;
  frame: (forgotten: boolean, children: ReactNode) => ReactNode;
}) {
  const [forgotten, setForgotten] = useState(false);
  if (forgotten) return frame(true, <ForgottenForm side={side} onBack={() => setForgotten(false)} />);
  return frame(
    false,
    <>
      <SignInForm side={side} onDone={onDone} />
      <p className="mt-4">
        <button type="button" className="link" onClick={() => setForgotten(true)}>
          Forgotten your password?
        </button>
      </p>
    </>,
  );
}

const inFrame = (title: string, children: ReactNode) => (
  <main className="mx-auto mt-[16vh] w-[min(360px,92vw)]">
    <WordMark />
    <h1 className="mt-6 mb-4">{title}</h1>
    {children}
  </main>
);

/** Where the link of a message leads somebody of the staff. */
export function NewPasswordPage() {
  return <SetByLink side="desk" title="A new password" frame={inFrame} />;
}

export function SignInPage() {
  const queries = useQueryClient();
  return (
    <SignInOrForgotten
      side="desk"
      onDone={() => void queries.resetQueries()}
      frame={(forgotten, children) =>
        inFrame(
          forgotten ? 'A new password' : 'Sign in to the desk',
          <>
            {children}
            <p className="mt-6 text-ink3">
              Affiliates sign in at the{' '}
              <a className="link" href="/portal">
                portal
              </a>
              .
            </p>
          </>,
        )
      }
    />
  );
}
