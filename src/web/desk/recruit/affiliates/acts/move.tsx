import { toast } from 'sonner';
import { moveAffiliate } from '../../../../../contract/recruit/affiliates';
import { useAct } from '../../../../kit/act';
import { ReasonDialog } from '../../../../kit/reason';
import type { View } from '../record/view';

/** A state that an affiliate can be moved to. */
export interface Move {
  to: 'active' | 'paused' | 'ended' | 'blocked';
  /** what the button says */
  name: string;
  /** what follows */
  about: string;
}

const resume: Move = { to: 'active', name: 'Resume', about: 'Links earn again from now on.' };
const closed = 'The portal is closed and nothing is paid.';

/** What each state can be followed by. */
export const moves: Record<View['state'], Move[]> = {
  applied: [{ to: 'blocked', name: 'Block', about: 'Applications of this person cannot be approved.' }],
  active: [
    {
      to: 'paused',
      name: 'Pause',
      about: 'Links go on leading buyers to the shop and earn nothing while paused.',
    },
    {
      to: 'ended',
      name: 'End',
      about: 'Links earn nothing from now on; what is earned is still paid.',
    },
    {
      to: 'blocked',
      name: 'Block',
      about: 'Links earn nothing, the portal is closed and nothing is paid.',
    },
  ],
  paused: [
    resume,
    { to: 'ended', name: 'End', about: 'What is earned is still paid.' },
    { to: 'blocked', name: 'Block', about: closed },
  ],
  ended: [
    { ...resume, name: 'Take back' },
    { to: 'blocked', name: 'Block', about: closed },
  ],
  blocked: [{ ...resume, name: 'Unblock' }],
};

/** Moves an affiliate to another state, with a reason. */
export function MoveDialog({
  affiliate,
  move,
  onClose,
}: {
  affiliate: View;
  move: Move;
  onClose: () => void;
}) {
  const act = useAct(moveAffiliate, {
    done: (a) => {
      onClose();
      toast(`${a.name} is ${a.state}`);
    },
  });
  const blocking = move.to === 'blocked';
  return (
    <ReasonDialog
      onClose={onClose}
      title={`${move.name} ${affiliate.name}`}
      about={move.about}
      act={move.name}
      danger={blocking}
      required={blocking}
      busy={act.isPending}
      onAct={(reason) =>
        act.mutate({
          params: { id: affiliate.id },
          body: { state: move.to, reason, version: affiliate.version },
        })
      }
    />
  );
}
