import { type ReactNode } from 'react';
import { type Control, type FieldErrors, type Path, type UseFormRegister } from 'react-hook-form';
import { ProductIn } from '../../../../../contract/setup/products';
import { Title } from '../../../../kit/text';

/** What each field of the form takes. */
export const properties = ProductIn.properties;

export type Values = ProductIn;

export interface Bound {
  control: Control<Values>;
  register: UseFormRegister<Values>;
  errors: FieldErrors<Values>;
  disabled: boolean;
}

export const kinds = [
  ['one-off', 'Sold once'],
  ['recurring', 'Renews: a subscription or a yearly plan'],
  ['instalments', 'Paid in instalments'],
  ['free', 'Free: earns by the lead'],
] as const;

/** A part of the form; what most products do without is folded away until it is asked for or filled. */
export function Part({
  title,
  about,
  open,
  children,
}: {
  title: string;
  about?: string;
  open?: boolean;
  children: ReactNode;
}) {
  if (open === undefined)
    return (
      <section className="mt-6">
        <h2 className="border-b border-rule pb-1">{title}</h2>
        <div className="mt-3 grid grid-cols-2 gap-x-5 gap-y-4">{children}</div>
      </section>
    );
  return (
    <details className="mt-6" open={open}>
      <summary className="cursor-pointer border-b border-rule pb-1">
        <Title>{title}</Title>
        {about && <span className="text-ink3"> · {about}</span>}
      </summary>
      <div className="mt-3 grid grid-cols-2 gap-x-5 gap-y-4">{children}</div>
    </details>
  );
}

export function Check({
  name,
  label,
  hint,
  bound,
}: {
  name: Path<Values>;
  label: string;
  hint: string;
  bound: Bound;
}) {
  return (
    <label className="block">
      <span className="flex items-center gap-2 font-semibold text-ink2">
        <input type="checkbox" disabled={bound.disabled} {...bound.register(name)} /> {label}
      </span>
      <span className="mt-[2px] block text-[12px] text-ink3">{hint}</span>
    </label>
  );
}
