import { toast } from 'sonner';
import { askApplicant } from '../../../../../contract/recruit/applications';
import { useAct } from '../../../../kit/act';
import { Hint } from '../../../../kit/note';
import { ReasonDialog } from '../../../../kit/reason';
import type { ApplicationView } from '../decision';

/** Asks an applicant something before deciding. */
export function AskDialog({ application, onClose }: { application: ApplicationView; onClose: () => void }) {
  const ask = useAct(askApplicant, {
    done: () => {
      onClose();
      toast(`${application.name} is asked; the answer comes back here`);
    },
  });
  return (
    <ReasonDialog
      onClose={onClose}
      title={`Ask ${application.name}`}
      about="By mail, with a link to answer. The application stands under “asked” until the answer is here."
      act="Ask"
      label="Question"
      required
      least={3}
      most={1000}
      rows={4}
      busy={ask.isPending}
      onAct={(question) => ask.mutate({ params: { id: application.id }, body: { question } })}
      example="Which of your sites would carry the links?"
      after={
        <Hint className="mt-1">
          {application.asksLeft} more {application.asksLeft === 1 ? 'message' : 'messages'} may go to people
          who have not joined today.
        </Hint>
      }
    />
  );
}
