import { useState, type ReactNode } from 'react';

/** A file of the kit with what it draws, each in every state. */
export interface Piece {
  /** the file, as “button” */
  file: string;
  states: readonly (readonly [name: string, drawn: ReactNode])[];
}

export function Shown({ file, states }: Piece) {
  return (
    <section data-kit={file} aria-label={file} className="border-t border-rule py-4">
      <h2>{file}</h2>
      <div className="mt-2 grid grid-cols-3 items-start gap-5">
        {states.map(([name, drawn]) => (
          <div key={name} className="min-w-0">
            <p className="mb-1 text-[12px] text-ink3">{name}</p>
            {drawn}
          </div>
        ))}
      </div>
    </section>
  );
}

/** Something that is changed where it stands. */
export function Held<T>({
  first,
  children,
}: {
  first: T;
  children: (value: T, set: (value: T) => void) => ReactNode;
}) {
  const [value, set] = useState(first);
  return <>{children(value, set)}</>;
}
