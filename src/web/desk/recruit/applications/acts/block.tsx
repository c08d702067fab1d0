import { useState } from 'react';
import { toast } from 'sonner';
import { moveAffiliate, readAffiliate } from '../../../../../contract/recruit/affiliates';
import { useAct } from '../../../../kit/act';
import { call } from '../../../../kit/api';
import { Confirm } from '../../../../kit/confirm';
import { TextArea } from '../../../../kit/inputs';
import { Labelled } from '../../../../kit/labelled';
import type { ApplicationView } from '../decision';

/** Blocks the person behind an application; what it still waits for is declined without a message. */
export function BlockDialog({ of, onClose }: { of: ApplicationView; onClose: () => void }) {
  const [reason, setReason] = useState('');
  const block = useAct(moveAffiliate, {
    done: (a) => {
      onClose();
      toast(`${a.name} is blocked; it can be undone on the affiliate’s page`);
    },
  });
  const go = async () => {
    const { version } = await call(readAffiliate, { params: { id: of.affiliate } });
    block.mutate({ params: { id: of.affiliate }, body: { state: 'blocked', reason, version } });
  };
  return (
    <Confirm
      open
      onClose={onClose}
      title={`Block ${of.name}`}
      about="Links earn nothing, the portal is closed, nothing is paid, and what is still open is declined without a message."
      act="Block"
      danger
      busy={block.isPending}
      onAct={() => void go()}
    >
      <Labelled>
        Reason
        <TextArea
          autoFocus
          rows={2}
          required
          maxLength={500}
          value={reason}
          onText={setReason}
          placeholder="The same person under another name"
          className="mt-1"
        />
      </Labelled>
    </Confirm>
  );
}
