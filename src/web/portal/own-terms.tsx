import { toast } from 'sonner';
import { chooseCard, type OwnPlaces } from '../../contract/portal/home';
import { useAct } from '../kit/act';
import { Said } from '../kit/note';
import { useProgramme } from '../kit/programme';
import { Select } from '../kit/select';
import { Strong } from '../kit/text';

/** Card and group, in the merchant's public words, and another card to choose where one is open. */
export function OwnTerms({ place }: { place: OwnPlaces }) {
  const { day } = useProgramme();
  const choose = useAct(chooseCard, {
    done: (p) => toast(`From ${day(p.from)} you are on ${p.coming?.name ?? p.card?.name ?? 'it'}`),
  });
  return (
    <Said gap={2}>
      {place.card && (
        <>
          Rate card <Strong>{place.card.name}</Strong>
          {place.card.about && `: ${place.card.about}`}.{' '}
        </>
      )}
      {place.group && (
        <>
          Group <Strong>{place.group.name}</Strong>
          {place.group.about && `: ${place.group.about}`}.{' '}
        </>
      )}
      {place.coming && (
        <>
          From {day(place.from)} on {place.coming.name}.{' '}
        </>
      )}
      {place.choices.length > 0 && (
        <span className="whitespace-nowrap">
          Change to{' '}
          <Select
            label="Change to"
            value=""
            disabled={choose.isPending}
            options={[['', 'another card…'], ...place.choices.map((c) => [c.id, c.name] as const)]}
            onPick={(card) => {
              if (card) choose.mutate({ body: { card } });
            }}
            className="w-auto"
          />{' '}
          from tomorrow
        </span>
      )}
    </Said>
  );
}
