import { partnerKindList } from '../../../../core/recruiting/kinds';
import { prospectStates } from '../../../../core/recruiting/states';
import type { useAddress } from '../../../kit/address';
import { Choice } from '../../../kit/choice';
import { countryChoices } from '../../../kit/countries';

const stateWords = { never: 'never invited', invited: 'invited', joined: 'joined' } as const;

const countries = [
  'AT',
  'AU',
  'BE',
  'CA',
  'CH',
  'CY',
  'CZ',
  'DE',
  'DK',
  'ES',
  'FI',
  'FR',
  'GB',
  'GR',
  'IE',
  'IT',
  'JP',
  'MT',
  'NL',
  'NO',
  'PL',
  'PT',
  'SE',
  'US',
];

/** The filter of the prospects as a sentence. @param tags the tags as choices */
export function ProspectSentence({
  address,
  tags,
}: {
  address: ReturnType<typeof useAddress>;
  tags: readonly (readonly [string, string])[];
}) {
  return (
    <>
      <Choice
        label="State"
        value={address.get('state')}
        options={[['', 'Partners'], ...prospectStates.map((s) => [s, `Partners ${stateWords[s]}`] as const)]}
        onChange={(v) => address.set('state', v)}
      />{' '}
      of{' '}
      <Choice
        label="Kind"
        value={address.get('kind')}
        options={[['', 'any kind'], ...partnerKindList.map((k) => [k, k] as const)]}
        onChange={(v) => address.set('kind', v)}
      />{' '}
      with{' '}
      <Choice
        label="Standing"
        value={address.get('standing')}
        options={[
          ['', 'any standing'],
          ...['40', '60', '75', '85'].map((n) => [n, `a standing of ${n} or more`] as const),
        ]}
        onChange={(v) => address.set('standing', v)}
      />
      ,{' '}
      <Choice
        label="Vouched for"
        value={address.get('vouched')}
        options={[
          ['', 'vouched for or not'],
          ['1', 'vouched for by the registry'],
        ]}
        onChange={(v) => address.set('vouched', v)}
      />
      , from{' '}
      <Choice
        label="Country"
        value={address.get('country')}
        options={[['', 'anywhere'], ...countryChoices(countries)]}
        onChange={(v) => address.set('country', v)}
      />
      {tags.length > 0 && (
        <>
          , tagged{' '}
          <Choice
            label="Tag"
            value={address.get('tag')}
            options={[['', 'or not'], ...tags]}
            onChange={(v) => address.set('tag', v)}
          />
        </>
      )}
      {address.get('q') && <>, found by “{address.get('q')}”</>}
    </>
  );
}
