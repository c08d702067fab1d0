import { useState } from 'react';
import { momentOfWall } from '../../../../../core/calendar/wall';
import { Button } from '../../../../kit/button';
import { Dialog, DialogFoot } from '../../../../kit/dialog';
import { FormFault } from '../../../../kit/form';
import { useProgramme } from '../../../../kit/programme';
import { WallField } from '../../../../kit/wall-field';

/** Asks for the moment at which what is typed is to hold. */
export function LaterDialog({ onClose, onMoment }: { onClose: () => void; onMoment: (at: number) => void }) {
  const { zone } = useProgramme();
  const [at, setAt] = useState('');
  const [fault, setFault] = useState<string | null>(null);
  return (
    <Dialog
      open
      onClose={onClose}
      title="Save for later"
      about="What you changed happens at that moment by itself. Until then the piece stays as it is, and each change can be undone."
    >
      <form
        onSubmit={(e) => {
          e.preventDefault();
          // the form below is another one
          e.stopPropagation();
          const moment = momentOfWall(at, zone);
          if (moment === null) setFault('Choose the moment.');
          else onMoment(moment);
        }}
      >
        <FormFault>{fault}</FormFault>
        <WallField label="When" value={at} onChange={setAt} empty="choose a day" />
        <DialogFoot>
          <Button onClick={onClose}>Leave it</Button>
          <Button type="submit" look="main">
            Plan the changes
          </Button>
        </DialogFoot>
      </form>
    </Dialog>
  );
}
