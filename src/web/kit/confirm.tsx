import type { ReactNode } from 'react';
import { Button } from './button';
import { Dialog, DialogFoot } from './dialog';

interface Props {
  open: boolean;
  onClose: () => void;
  title: string;
  /** what follows from the act, in a sentence */
  about?: ReactNode;
  /** the words on the button that acts */
  act: ReactNode;
  onAct: () => void;
  busy?: boolean;
  danger?: boolean;
  /** figures before and after, or what has to be typed */
  children?: ReactNode;
}

/** Asks before an act that matters: what follows, its figures, a way out, and the button that does it. */
export function Confirm({
  open,
  onClose,
  title,
  about,
  act,
  onAct,
  busy = false,
  danger = false,
  children,
}: Props) {
  return (
    <Dialog open={open} onClose={onClose} title={title} about={about}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          onAct();
        }}
      >
        {children}
        <DialogFoot>
          <Button onClick={onClose}>Leave it</Button>
          <Button type="submit" look={danger ? 'danger' : 'main'} busy={busy}>
            {act}
          </Button>
        </DialogFoot>
      </form>
    </Dialog>
  );
}
