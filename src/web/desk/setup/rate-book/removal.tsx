import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { previewRemoval, removeSet, type SetOut } from '../../../../contract/setup/sets';
import { counted } from '../../../../core/text/counted';
import { useAct } from '../../../kit/act';
import { asking } from '../../../kit/asking';
import { Button } from '../../../kit/button';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { Note } from '../../../kit/note';
import { SelectField } from '../../../kit/select';
import { BeforeAfter } from '../../shared/before-after';

/** Asks before a card, group or tag goes: who is in it, what they earn before and after, and where members of a card move. */
export function Removal({
  set,
  cards,
  onClose,
  onDone,
}: {
  set: SetOut;
  cards: SetOut[];
  onClose: () => void;
  onDone: () => void;
}) {
  const [to, setTo] = useState(cards.find((c) => c.standard)?.id ?? null);
  const view = useQuery(
    asking(previewRemoval, { params: { id: set.id }, query: set.of === 'card' && to ? { to } : {} }),
  );
  const remove = useAct(removeSet, { done: onDone });
  return (
    <Dialog
      open
      onClose={onClose}
      wide
      title={`Remove ${set.name}`}
      about={
        view.data
          ? `${counted(view.data.members, 'affiliate')}; ${counted(view.data.rates, 'rate ends', 'rates end')}. Nobody leaves the programme, and it can be taken back.`
          : 'Looking who is in it…'
      }
    >
      {set.of === 'card' && (
        <SelectField
          label="Its affiliates move to"
          value={to ?? ''}
          options={cards.map((c) => [c.id, c.name] as const)}
          onPick={(card) => setTo(card || null)}
        />
      )}
      {view.data && <BeforeAfter changes={view.data.sample} total={view.data.members} />}
      {view.data?.cut && (
        <Note role="note" className="mt-3">
          Somebody would earn less ({view.data.cut}). The programme promises notice: end its rates in the rate
          book from a later day, then remove it.
        </Note>
      )}
      <DialogFoot>
        <Button onClick={onClose}>Leave it</Button>
        <Button
          look="danger"
          busy={remove.isPending}
          disabled={!view.data || view.data.cut !== null}
          onClick={() =>
            remove.mutate({
              params: { id: set.id },
              body: { ...(set.of === 'card' && to ? { to } : {}), version: set.version },
            })
          }
        >
          Remove {set.name}
        </Button>
      </DialogFoot>
    </Dialog>
  );
}
