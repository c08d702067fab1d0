import type { ReactNode } from 'react';
import { Refused } from './api';
import { Button } from './button';
import { Headed } from './layout';
import { Said } from './note';
import { Title } from './text';

/** The heading of a place: title, a sentence that says what is shown, and what can be done. */
export function Heading({
  title,
  children,
  acts,
  isLong = false,
}: {
  title: ReactNode;
  children?: ReactNode;
  acts?: ReactNode;
  /** the sentence takes the whole width, below what can be done */
  isLong?: boolean;
}) {
  const sentence = children && <div className="mt-[3px] text-ink2">{children}</div>;
  return (
    <div className="px-5 pt-4 pb-3">
      <Headed className="gap-4">
        <div className="min-w-0">
          <h1>{title}</h1>
          {!isLong && sentence}
        </div>
        {acts && <div className="flex shrink-0 gap-2">{acts}</div>}
      </Headed>
      {isLong && sentence}
    </div>
  );
}

/** What comes here, and the next step. */
export function Empty({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <div className="max-w-[46ch]">
      <p>
        <Title>{title}</Title>
      </p>
      <div className="mt-1 text-ink2">{children}</div>
    </div>
  );
}

/** What happened, what was kept, what to do. */
export function Failed({ fault, retry }: { fault: unknown; retry?: () => void }) {
  const said = fault instanceof Refused ? fault.problem.detail : 'Something went wrong in this page.';
  return (
    <div role="alert" className="m-5 max-w-[60ch] border-l-[3px] border-madder bg-madder-wash px-4 py-3">
      <p className="font-semibold">This could not be shown.</p>
      <Said>{said}</Said>
      {retry && (
        <Button className="mt-2" onClick={retry}>
          Try again
        </Button>
      )}
    </div>
  );
}

/** A part of a page that could not be read, in its place; the rest of the page is shown. */
export function Unread({ what }: { what: string }) {
  return (
    <p role="alert" className="my-2 border-l-[3px] border-madder bg-madder-wash px-3 py-2">
      {what}: could not be read. The rest of this page is complete; the log has the error.
    </p>
  );
}

/** Says that rows of a list are missing because they could not be read. */
export function UnreadRows({ count }: { count: number }) {
  if (count === 0) return null;
  return <Unread what={`${count} ${count === 1 ? 'row' : 'rows'}`} />;
}

/** Lines in the shape of what is coming. */
export function Skeleton({ lines = 6 }: { lines?: number }) {
  return (
    <div className="space-y-3 p-5" aria-label="Loading" role="status">
      {Array.from({ length: lines }, (_, i) => (
        <div key={i} className="skeleton" style={{ width: `${90 - ((i * 17) % 45)}%` }} />
      ))}
    </div>
  );
}

/** Label and value pairs of a sheet. */
export function Facts({ rows }: { rows: [label: string, value: ReactNode][] }) {
  return (
    <dl className="my-3 grid grid-cols-[118px_1fr] gap-x-3 gap-y-[5px]">
      {rows.map(([label, value]) => (
        <div key={label} className="contents">
          <dt className="text-ink3">{label}</dt>
          <dd className="min-w-0 break-words">{value}</dd>
        </div>
      ))}
    </dl>
  );
}

export function Margin({ children, width = 'w-[330px]' }: { children: ReactNode; width?: string }) {
  return (
    <aside
      className={`${width} shrink-0 overflow-auto border-l border-rule px-[18px] py-4`}
      tabIndex={0}
      aria-label="Margin"
    >
      {children}
    </aside>
  );
}

/** What stands at the end of a bar: how many, and the keys. */
export function BarEnd({ children }: { children: ReactNode }) {
  return <span className="ml-auto text-ink2">{children}</span>;
}

/** The bar at the foot of a place where something is decided. */
export function Bar({ children, tone = 'plain' }: { children: ReactNode; tone?: 'plain' | 'draft' }) {
  return (
    <div
      className={`flex shrink-0 items-center gap-2 border-t px-5 py-[10px] ${tone === 'draft' ? 'border-copper bg-copper-wash' : 'border-rule bg-paper'}`}
    >
      {children}
    </div>
  );
}
