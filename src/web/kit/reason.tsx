import { useState, type ReactNode } from 'react';
import { Confirm } from './confirm';
import { FormFault } from './form';
import { TextArea } from './inputs';
import { Labelled } from './labelled';

interface Props {
  title: string;
  /** what follows from the act, in a sentence */
  about: ReactNode;
  /** the words on the button that acts */
  act: ReactNode;
  onAct: (reason: string) => void;
  onClose: () => void;
  busy?: boolean;
  danger?: boolean;
  /** what the words are called, where they are no reason */
  label?: string;
  /** the act waits for words; else they may be left out, and it says so */
  required?: boolean;
  least?: number;
  most?: number;
  rows?: number;
  example?: string;
  fault?: string | null;
  /** what is typed or said before the words, and after them */
  before?: ReactNode;
  after?: ReactNode;
  /** something before the words takes the focus */
  focusBefore?: boolean;
}

/** Asks before an act that has a reason: what follows, the words, a way out, and the button that does it. */
export function ReasonDialog({
  label = 'Reason',
  required = false,
  least,
  most = 500,
  rows = 2,
  example,
  fault = null,
  before,
  after,
  focusBefore = false,
  onAct,
  ...confirm
}: Props) {
  const [reason, setReason] = useState('');
  return (
    <Confirm open onAct={() => onAct(reason)} {...confirm}>
      <FormFault>{fault}</FormFault>
      {before}
      <Labelled>
        {label}
        {required ? '' : ', if you wish'}
        <TextArea
          autoFocus={!focusBefore}
          required={required}
          rows={rows}
          minLength={least}
          maxLength={most}
          value={reason}
          onText={setReason}
          placeholder={example}
          className="mt-1"
        />
      </Labelled>
      {after}
    </Confirm>
  );
}
