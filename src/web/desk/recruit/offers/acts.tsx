import { toast } from 'sonner';
import { removeOffer, showOffer, submitOffer } from '../../../../contract/recruit/offers';
import { useAct } from '../../../kit/act';
import { Button } from '../../../kit/button';
import { Bar } from '../../../kit/place';
import { type Offer } from './offer';

/** What can be done with the page that is shown, and making a new one. */
export function OfferBar({
  of,
  registry,
  edit,
  onRemoved,
}: {
  of: Offer | null;
  registry: boolean;
  edit: (of: Offer | 'new') => void;
  onRemoved: () => void;
}) {
  return (
    <Bar>
      <Button look={of ? 'quiet' : 'main'} keyName="N" onClick={() => edit('new')}>
        New page
      </Button>
      {of && <OfferActs of={of} registry={registry} edit={edit} onRemoved={onRemoved} />}
    </Bar>
  );
}

function OfferActs({
  of,
  registry,
  edit,
  onRemoved,
}: {
  of: Offer;
  registry: boolean;
  edit: (of: Offer) => void;
  onRemoved: () => void;
}) {
  const open = useAct(showOffer, {
    done: (o) => toast(o.live ? 'The page is open to everybody' : 'The page is closed'),
  });
  const remove = useAct(removeOffer, {
    done: () => {
      onRemoved();
      toast('The page is removed');
    },
  });
  const submit = useAct(submitOffer, { done: () => toast('Submitted; the reviewer’s answer arrives here') });
  const submittable = of.entry === 'none' || of.entry === 'refused' || of.entry === 'listed';
  const params = { id: of.id };
  return (
    <>
      <Button keyName="E" onClick={() => edit(of)}>
        Change
      </Button>
      <Button
        busy={open.isPending}
        onClick={() => open.mutate({ params, body: { on: !of.live, version: of.version } })}
      >
        {of.live ? 'Close it' : 'Open it to everybody'}
      </Button>
      {registry && submittable && (
        <Button
          look="main"
          busy={submit.isPending}
          disabled={!of.live}
          onClick={() => submit.mutate({ params })}
        >
          {of.entry === 'none' ? 'Submit to the catalogue' : 'Submit again'}
        </Button>
      )}
      <Button busy={remove.isPending} onClick={() => remove.mutate({ params })}>
        Remove
      </Button>
    </>
  );
}
