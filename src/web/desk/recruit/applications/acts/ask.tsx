import { useState } from 'react';
import { toast } from 'sonner';
import { askApplicant } from '../../../../../contract/recruit/applications';
import { useAct } from '../../../../kit/act';
import { Confirm } from '../../../../kit/confirm';
import { TextArea } from '../../../../kit/inputs';
import { Labelled } from '../../../../kit/labelled';
import { Hint } from '../../../../kit/note';
import type { ApplicationView } from '../decision';

/** Asks an applicant something before deciding. */
export function AskDialog({ of, onClose }: { of: ApplicationView; onClose: () => void }) {
  const [text, setText] = useState('');
  const ask = useAct(askApplicant, {
    done: () => {
      onClose();
      toast(`${of.name} is asked; the answer comes back here`);
    },
  });
  return (
    <Confirm
      open
      onClose={onClose}
      title={`Ask ${of.name}`}
      about="By mail, with a link to answer. The application stands under “asked” until the answer is here."
      act="Ask"
      busy={ask.isPending}
      onAct={() => ask.mutate({ params: { id: of.id }, body: { question: text } })}
    >
      <Labelled>
        Question
        <TextArea
          autoFocus
          required
          minLength={3}
          maxLength={1000}
          rows={4}
          value={text}
          onText={setText}
          placeholder="Which of your sites would carry the links?"
          className="mt-1"
        />
      </Labelled>
      <Hint className="mt-1">
        {of.asksLeft} more {of.asksLeft === 1 ? 'message' : 'messages'} may go to people who have not joined
        today.
      </Hint>
    </Confirm>
  );
}
