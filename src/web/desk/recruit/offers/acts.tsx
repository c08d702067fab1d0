import { toast } from 'sonner';
import { removeOffer, showOffer, submitOffer } from '../../../../contract/recruit/offers';
import { useAct } from '../../../kit/act';
import { Button } from '../../../kit/button';
import { Bar } from '../../../kit/place';
import { type Offer } from './offer';

/** What can be done with the page that is shown, and making a new one. */
export function OfferBar({
  offer,
  registry,
  edit,
  onRemoved,
}: {
  offer: Offer | null;
  registry: boolean;
  edit: (target: Offer | 'new') => void;
  onRemoved: () => void;
}) {
  return (
    <Bar>
      <Button look={offer ? 'quiet' : 'main'} keyName="N" onClick={() => edit('new')}>
        New page
      </Button>
      {offer && <OfferActs offer={offer} registry={registry} edit={edit} onRemoved={onRemoved} />}
    </Bar>
  );
}

function OfferActs({
  offer,
  registry,
  edit,
  onRemoved,
}: {
  offer: Offer;
  registry: boolean;
  edit: (target: Offer) => void;
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
  const submittable = offer.entry === 'none' || offer.entry === 'refused' || offer.entry === 'listed';
  const params = { id: offer.id };
  return (
    <>
      <Button keyName="E" onClick={() => edit(offer)}>
        Change
      </Button>
      <Button
        busy={open.isPending}
        onClick={() => open.mutate({ params, body: { on: !offer.live, version: offer.version } })}
      >
        {offer.live ? 'Close it' : 'Open it to everybody'}
      </Button>
      {registry && submittable && (
        <Button
          look="main"
          busy={submit.isPending}
          disabled={!offer.live}
          onClick={() => submit.mutate({ params })}
        >
          {offer.entry === 'none' ? 'Submit to the catalogue' : 'Submit again'}
        </Button>
      )}
      <Button busy={remove.isPending} onClick={() => remove.mutate({ params })}>
        Remove
      </Button>
    </>
  );
}
