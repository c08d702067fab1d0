import { useQuery } from '@tanstack/react-query';
import { listOwnMaterial, surveyOwnMaterial, type OwnRow } from '../../../contract/portal/material';
import { creativeKinds, kindWords, type CreativeKind } from '../../../core/material/lists';
import { counted } from '../../../core/text/counted';
import { useAddress } from '../../kit/address';
import { asking } from '../../kit/asking';
import { Choice } from '../../kit/choice';
import { EndMark } from '../../kit/end-mark';
import { languageName } from '../../kit/languages';
import { useList } from '../../kit/lists';
import { Empty, Failed, Skeleton } from '../../kit/place';
import { SearchField } from '../../kit/search';
import { Ask, AskedFor } from './asking';
import { Coupons } from './coupons';
import { Taken } from './taken';
import { Tile } from './tile';

/** What an affiliate promotes with: found by kind, product, size, subject and language, newest first. */
export function Material() {
  const address = useAddress();
  const { params } = address;
  const filter = filterIn(params);
  const list = useList(listOwnMaterial, filter, 40);
  const opened = address.id('id', 'creative');
  return (
    <>
      <div className="flex flex-wrap items-start justify-between gap-x-6 gap-y-2">
        <div className="min-w-0">
          <h1>Creatives</h1>
          <Sentence address={address} />
        </div>
        <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
          <Ask>Ask for what is missing</Ask>
          <SearchField label="Search" />
        </div>
      </div>
      {Object.keys(filter).length === 0 && <Coupons />}
      {list.failed ? (
        <Failed fault={list.failed} retry={list.again} />
      ) : (
        <Hanging
          rows={list.rows}
          loading={list.loading}
          narrowed={Object.keys(filter).length > 0}
          onOpen={(row) => address.put({ id: row.id })}
        />
      )}
      {list.onEnd && <EndMark onSeen={list.onEnd} />}
      {!list.onEnd && !list.loading && <AskedFor onOpen={(id) => address.put({ id })} />}
      {opened && <Taken id={opened} onClose={() => address.put({ id: '' }, { replace: true })} />}
    </>
  );
}

function filterIn(params: URLSearchParams) {
  const get = (key: string) => params.get(key) ?? '';
  const kind = creativeKinds.find((k) => k === get('kind'));
  const texts = ['product', 'size', 'subject', 'language', 'q'] as const;
  return {
    ...(kind ? { kind } : {}),
    ...Object.fromEntries(texts.filter((key) => get(key)).map((key) => [key, get(key)])),
  };
}

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

type Address = ReturnType<typeof useAddress>;

/** The filter as a sentence; a word is there where there is something to choose. */
function Sentence({ address }: { address: Address }) {
  const survey = useQuery(asking(surveyOwnMaterial)).data;
  if (!survey) return null;
  const word = (key: string, label: string, options: readonly (readonly [string, string])[]) =>
    options.length > 2 && (
      <>
        ,{' '}
        <Choice
          label={label}
          value={address.get(key)}
          options={options}
          onChange={(v) => address.set(key, v)}
        />
      </>
    );
  const kinds = survey.kinds.filter((k) => k.count > 0);
  return (
    <p className="text-ink2">
      <Choice
        label="Kind"
        value={address.get('kind')}
        options={[
          ['', 'Everything'],
          ...kinds.map(({ kind, count }) => [kind, `${capital(nameOf(kind))}, ${count}`] as const),
        ]}
        onChange={(v) => address.set('kind', v)}
      />
      {word('product', 'Product', [
        ['', 'for anything'],
        ...survey.products.map((p) => [p.code, `for ${p.name}`] as const),
      ])}
      {word('size', 'Size', [
        ['', 'of any size'],
        ...survey.sizes.map((s) => [s.replace('×', 'x'), s] as const),
      ])}
      {word('subject', 'Subject', [
        ['', 'on any subject'],
        ...survey.subjects.map((s) => [s, `on ${s}`] as const),
      ])}
      {word('language', 'Language', [
        ['', 'in any language'],
        ...survey.languages.map((l) => [l, `in ${languageName(l)}`] as const),
      ])}
      , newest first{survey.fresh > 0 && <>; {survey.fresh} new since you were here</>}
    </p>
  );
}

const nameOf = (kind: CreativeKind) => kindWords[kind][1];

interface HangingProps {
  rows: OwnRow[];
  loading: boolean;
  narrowed: boolean;
  onOpen: (row: OwnRow) => void;
}

function Hanging({ rows, loading, narrowed, onOpen }: HangingProps) {
  if (rows.length === 0)
    return loading ? (
      <Skeleton />
    ) : (
      <div className="mt-4">
        {narrowed ? (
          <Empty title="Nothing fits">Choose fewer words above.</Empty>
        ) : (
          <Empty title="Nothing here yet">
            Banners, words and letters to promote with appear here, each with a link of your own.
          </Empty>
        )}
      </div>
    );
  return (
    <ul
      className="mt-4 flex flex-wrap items-end gap-x-6 gap-y-6"
      aria-label={counted(rows.length, 'creative')}
    >
      {rows.map((row) => (
        <Tile key={row.id} row={row} onOpen={() => onOpen(row)} />
      ))}
    </ul>
  );
}
