import { Dialog as Radix } from 'radix-ui';
import type { ReactNode } from 'react';
import { Button } from './button';

interface Props {
  open: boolean;
  onClose: () => void;
  title: string;
  about?: ReactNode;
  children: ReactNode;
  wide?: boolean;
}

/** A dialog in the middle: focus stays in it, Esc leaves it. */
export function Dialog({ open, onClose, title, about, children, wide = false }: Props) {
  return (
    <Radix.Root
      open={open}
      onOpenChange={(next) => {
        if (!next) onClose();
      }}
    >
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-40 bg-ink/25" />
        <Radix.Content
          className={`fixed top-[14vh] left-1/2 z-50 max-h-[76vh] -translate-x-1/2 overflow-auto rounded-sm border border-rule bg-sheet p-5 shadow-float ${wide ? 'w-[min(720px,94vw)]' : 'w-[min(460px,94vw)]'}`}
        >
          <Radix.Title className="font-serif text-[18px] leading-tight font-semibold">{title}</Radix.Title>
          <Radix.Description asChild>
            <div className="mt-1 mb-3 text-ink2">{about}</div>
          </Radix.Description>
          {children}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}

/** The row of buttons at the foot of a dialog. */
export function DialogFoot({ children }: { children: ReactNode }) {
  // stays in sight where the dialog is longer than the window
  return (
    <div className="sticky -bottom-5 -mx-5 mt-4 -mb-5 flex justify-end gap-2 bg-sheet px-5 pt-2 pb-5">
      {children}
    </div>
  );
}

/** The end of a form in a dialog: leaving it, or sending it. */
export function SubmitFoot({
  onLeave,
  leave = 'Leave it',
  look = 'main',
  busy,
  disabled = false,
  children,
}: {
  onLeave: () => void;
  leave?: string;
  look?: 'main' | 'danger';
  busy: boolean;
  disabled?: boolean;
  /** what sending it does */
  children: ReactNode;
}) {
  return (
    <DialogFoot>
      <Button onClick={onLeave}>{leave}</Button>
      <Button type="submit" look={look} busy={busy} disabled={disabled}>
        {children}
      </Button>
    </DialogFoot>
  );
}
