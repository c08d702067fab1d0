import { toast } from 'sonner';
import { publishPolicy } from '../../../../contract/setup/policy';
import { useAct } from '../../../kit/act';
import { Button } from '../../../kit/button';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { Said } from '../../../kit/note';
import { Sums } from '../../../kit/text';
import { endWords, type Whole } from './margin';
import { type Version } from './versions';

/** Asks before a version is published. */
export function PublishDialog({
  p,
  last,
  onClose,
}: {
  p: Whole;
  last: Version | undefined;
  onClose: () => void;
}) {
  const publish = useAct(publishPolicy, {
    done: (p) => {
      onClose();
      toast(`Version ${p.number} is published; ${p.outstanding} affiliates are told`);
    },
  });
  return (
    <Dialog
      open
      onClose={onClose}
      title={`Publish version ${p.number}`}
      about={
        last
          ? `It holds after the ${last.number === p.number ? '' : 'notice of '}version ${last.number} promises; every affiliate is told now, with the changes marked.`
          : 'The first version holds at once. Whoever applies from now on accepts it by applying.'
      }
    >
      <Sums
        rows={[
          { label: 'Sections that change', figure: p.changes.length || (last ? 0 : p.sections.length) },
          {
            label: 'At the end of the notice, who has not accepted is',
            figure: endWords[p.content.atEnd],
          },
        ]}
      />
      <Said gap={2} faint>
        Unsaved words of the form are not in it: save them first.
      </Said>
      <DialogFoot>
        <Button onClick={onClose}>Leave it</Button>
        <Button
          look="main"
          busy={publish.isPending}
          onClick={() => publish.mutate({ params: { id: p.id }, body: { version: p.version } })}
        >
          Publish and tell everybody
        </Button>
      </DialogFoot>
    </Dialog>
  );
}
