import { Choice } from '../../../kit/choice';
import { Period } from '../../../kit/period';
import { picturedIn } from './filter';

interface Props {
  params: URLSearchParams;
  /** sets some parts of the filter at once; '' takes one out */
  put: (parts: Record<string, string>) => void;
  /** whose sales alone are shown, '' for everyone’s */
  name: string;
}

/** The filter of the sales as a sentence. */
export function SalesSentence({ params, put, name }: Props) {
  const pictured = picturedIn(params);
  const get = (key: string) => params.get(key) ?? '';
  return (
    <>
      <Choice
        label="Credited"
        value={pictured ? 'unconfirmed' : get('credited')}
        options={[
          ['', 'All sales'],
          ['yes', 'Sales credited to an affiliate'],
          ['no', 'Sales that nobody is credited for'],
          ['unconfirmed', 'Unconfirmed sales and payments'],
        ]}
        onChange={(v) =>
          put(v === 'unconfirmed' ? { credited: '', unconfirmed: '1' } : { credited: v, unconfirmed: '' })
        }
      />
      {name && (
        <>
          {' '}
          of{' '}
          <button
            type="button"
            className="link"
            onClick={() => put({ affiliate: '' })}
            title="Show everyone’s"
          >
            {name} ×
          </button>
        </>
      )}
      ,{' '}
      {pictured ? (
        <Choice
          label="State"
          value={pictured}
          options={[
            ['open', 'waiting'],
            ['old', 'waiting for 7 days or more'],
            ['reported', 'reported since'],
            ['confirmed', 'confirmed by a person'],
            ['set-aside', 'set aside'],
          ]}
          onChange={(v) => put({ unconfirmed: v === 'open' ? '1' : v })}
        />
      ) : (
        <Period from={get('from')} to={get('to')} onChange={(from, to) => put({ from, to })} />
      )}
      , newest first
    </>
  );
}
