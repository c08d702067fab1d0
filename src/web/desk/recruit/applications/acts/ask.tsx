import { toast } from 'sonner';
import { askApplicant } from '../../../../../contract/recruit/applications';
import { useAct } from '../../../../kit/act';
import { Hint } from '../../../../kit/note';
import { ReasonDialog } from '../../../../kit/reason';
import type { ApplicationView } from '../decision';

/** Asks an applicant something before deciding. */
export function AskDialog({ of, onClose }: { of: ApplicationView; onClose: () => void }) {
  const ask = useAct(askApplicant, {
    done: () => {
      onClose();
      toast(`${of.name} is asked; the answer comes back here`);
    },
  });
  return (
    <ReasonDialog
      onClose={onClose}
      title={`Ask ${of.name}`}
      about="By mail, with a link to answer. The application stands under “asked” until the answer is here."
      act="Ask"
      label="Question"
      required
      least={3}
      most={1000}
      rows={4}
      busy={ask.isPending}
      onAct={(question) => ask.mutate({ params: { id: of.id }, body: { question } })}
      example="Which of your sites would carry the links?"
      after={
        <Hint className="mt-1">
          {of.asksLeft} more {of.asksLeft === 1 ? 'message' : 'messages'} may go to people who have not joined
          today.
        </Hint>
      }
    />
  );
}
