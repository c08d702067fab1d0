import { toast } from 'sonner';
import { moveAffiliate, readAffiliate } from '../../../../../contract/recruit/affiliates';
import { useAct } from '../../../../kit/act';
import { call } from '../../../../kit/api';
import { ReasonDialog } from '../../../../kit/reason';
import type { ApplicationView } from '../decision';

/** Blocks the person behind an application; what it still waits for is declined without a message. */
export function BlockDialog({ application, onClose }: { application: ApplicationView; onClose: () => void }) {
  const block = useAct(moveAffiliate, {
    done: (a) => {
      onClose();
      toast(`${a.name} is blocked; it can be undone on the affiliate’s page`);
    },
  });
  const go = async (reason: string) => {
    const { version } = await call(readAffiliate, { params: { id: application.affiliate } });
    block.mutate({ params: { id: application.affiliate }, body: { state: 'blocked', reason, version } });
  };
  return (
    <ReasonDialog
      onClose={onClose}
      title={`Block ${application.name}`}
      about="Links earn nothing, the portal is closed, nothing is paid, and what is still open is declined without a message."
      act="Block"
      danger
      required
      busy={block.isPending}
      onAct={(reason) => void go(reason)}
      example="The same person under another name"
    />
  );
}
