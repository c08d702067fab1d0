import type { ReplyOf } from '../../../../contract/endpoint';
import type { surveyCreatives } from '../../../../contract/equip/creatives';
import type { SetOut } from '../../../../contract/setup/sets';
import {
  audienceKinds,
  creativeKinds,
  creativeStates,
  creativeStateWords,
  kindWords,
} from '../../../../core/material/lists';
import type { useAddress } from '../../../kit/address';
import { Choice } from '../../../kit/choice';
import { languageName } from '../../../kit/languages';
import { setChoices } from '../../shared/sets';

type Survey = ReplyOf<typeof surveyCreatives>;

interface Props {
  address: ReturnType<typeof useAddress>;
  survey: Survey | undefined;
  products: readonly { id: string; name: string }[];
  sets: SetOut[];
}

const audienceWords: Record<(typeof audienceKinds)[number], string> = {
  everybody: 'everybody may use',
  group: 'a group may use',
  tag: 'those with a tag may use',
  segment: 'a segment may use',
  named: 'some by name may use',
};

/** The filter of the sample book as a sentence. */
export function CreativesSentence({ address, survey, products, sets }: Props) {
  return (
    <>
      <Choice
        label="Kind"
        value={address.get('kind')}
        options={[
          ['', 'Everything'],
          ...creativeKinds.map((kind) => [kind, capital(kindWords[kind][1])] as const),
        ]}
        onChange={(v) => address.set('kind', v)}
      />{' '}
      for{' '}
      <Choice
        label="Product"
        value={address.get('product')}
        options={[
          ['', 'any product'],
          ['programme', 'the whole programme'],
          ...products.map((p) => [p.id, p.name] as const),
        ]}
        onChange={(v) => address.set('product', v)}
      />{' '}
      that{' '}
      <Choice
        label="Audience"
        value={address.get('audience')}
        options={[
          ['', 'anybody may use'],
          ...audienceKinds.map((kind) => [kind, audienceWords[kind]] as const),
          ...setChoices(sets, 'group').map(([id, name]) => [id, `${name} may use`] as const),
          ...setChoices(sets, 'tag').map(([id, name]) => [id, `those tagged ${name} may use`] as const),
        ]}
        onChange={(v) => address.set('audience', v)}
      />
      , <About address={address} survey={survey} />,{' '}
      <Choice
        label="State"
        value={address.get('state')}
        options={[
          ['', 'in any state'],
          ...creativeStates.map((state) => [state, creativeStateWords[state]] as const),
          ['unused', 'on, but not used'],
          ['contradicts', 'on, and contradict your terms'],
          ['removed', 'taken out'],
        ]}
        onChange={(v) => address.set('state', v)}
      />
      ,{' '}
      <Choice
        label="Order"
        value={address.get('order')}
        options={[
          ['', 'newest first'],
          ['clicks', 'most clicked first'],
        ]}
        onChange={(v) => address.set('order', v)}
      />
      {address.get('q') && <>, with “{address.get('q')}” in it</>}
    </>
  );
}

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** Subject, size and language, where there is more than one of them. */
function About({ address, survey }: Pick<Props, 'address' | 'survey'>) {
  const { subjects = [], sizes = [], languages = [] } = survey ?? {};
  return (
    <>
      <Choice
        label="Subject"
        value={address.get('subject')}
        options={[['', 'on any subject'], ...subjects.map((s) => [s, `on ${s}`] as const)]}
        onChange={(v) => address.set('subject', v)}
      />
      ,{' '}
      <Choice
        label="Size"
        value={address.get('size')}
        options={[['', 'of any size'], ...sizes.map((s) => [s.replace('×', 'x'), s] as const)]}
        onChange={(v) => address.set('size', v)}
      />
      {languages.length > 1 && (
        <>
          ,{' '}
          <Choice
            label="Language"
            value={address.get('language')}
            options={[
              ['', 'in any language'],
              ...languages.map((l) => [l, `in ${languageName(l)}`] as const),
            ]}
            onChange={(v) => address.set('language', v)}
          />
        </>
      )}
    </>
  );
}
