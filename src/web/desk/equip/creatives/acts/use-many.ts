import { toast } from 'sonner';
import type { BodyOf, ReplyOf } from '../../../../../contract/endpoint';
import { changeMany, undoMany } from '../../../../../contract/equip/planned';
import { counted } from '../../../../../core/text/counted';
import { useAct } from '../../../../kit/act';

export type Changes = BodyOf<typeof changeMany>['changes'];

function doneWords({ changed, same, refused }: ReplyOf<typeof changeMany>): string {
  const parts = [
    `${counted(changed, 'creative')} changed`,
    same ? `${same} so already` : '',
    ...refused.slice(0, 3).map(({ name, why }) => `“${name}” not: ${why}`),
    refused.length > 3 ? `and ${refused.length - 3} more not` : '',
  ];
  return parts.filter(Boolean).join('; ');
}

/** Changes the same of some creatives; what was done is said with a way back. */
export function useMany(done: () => void = () => undefined) {
  const undo = useAct(undoMany, {
    done: ({ undone, kept }) =>
      toast(
        `Taken back for ${undone}${kept.length ? `; changed since and left: ${kept.slice(0, 3).join(', ')}` : ''}`,
      ),
  });
  return useAct(changeMany, {
    done: (reply) => {
      done();
      const { act } = reply;
      toast(doneWords(reply), {
        duration: 10_000,
        ...(reply.changed
          ? { action: { label: 'Undo', onClick: () => undo.mutate({ body: { act } }) } }
          : {}),
      });
    },
  });
}
