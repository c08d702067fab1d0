import type { SetOut } from '../../../../contract/setup/sets';
import { partnerKindList } from '../../../../core/recruiting/kinds';
import { rosterOnly } from '../../../../core/recruiting/roster';
import { affiliateStates } from '../../../../core/recruiting/states';
import type { useAddress } from '../../../kit/address';
import { Choice } from '../../../kit/choice';
import { Strong } from '../../../kit/text';
import { setChoices } from '../../shared/sets';
import { filterIn, sortIn } from './filter';

interface Props {
  address: ReturnType<typeof useAddress>;
  sets: SetOut[];
  staff: { id: string; name: string }[];
  practices: { key: string; name: string }[];
  total: number;
}

/** The filter of the roster as a sentence: where an affiliate belongs, who it is, how they are sorted. */
export function RosterSentence({ address, sets, staff, practices, total }: Props) {
  const filter = filterIn(address.params);
  const sort = sortIn(address.params);
  return (
    <>
      <Choice
        label="State"
        value={filter.state ?? ''}
        options={[['', 'Everyone'], ...affiliateStates.map((s) => [s, `Those who are ${s}`] as const)]}
        onChange={(v) => address.set('state', v)}
      />{' '}
      <Choice
        label="Group"
        value={filter.group ?? ''}
        options={[
          ['', 'in any group or none'],
          ['none', 'in no group'],
          ...setChoices(sets, 'group').map(([id, n]) => [id, `in ${n}`] as const),
        ]}
        onChange={(v) => address.set('group', v)}
      />
      ,{' '}
      <Choice
        label="Tag"
        value={filter.tag ?? ''}
        options={[
          ['', 'tagged or not'],
          ...setChoices(sets, 'tag').map(([id, n]) => [id, `tagged ${n}`] as const),
        ]}
        onChange={(v) => address.set('tag', v)}
      />
      ,{' '}
      <Choice
        label="Card"
        value={filter.card ?? ''}
        options={[
          ['', 'on any card'],
          ...setChoices(sets, 'card').map(([id, n]) => [id, `on ${n}`] as const),
        ]}
        onChange={(v) => address.set('card', v)}
      />
      ,{' '}
      <Choice
        label="Kind"
        value={filter.kind ?? ''}
        options={[
          ['', 'of any kind'],
          ['none', 'of no kind yet'],
          ...partnerKindList.map((k) => [k, `of the kind ${k}`] as const),
        ]}
        onChange={(v) => address.set('kind', v)}
      />
      ,{' '}
      <Choice
        label="Looked after by"
        value={filter.lookedAfter ?? ''}
        options={[
          ['', 'looked after by anybody'],
          ['nobody', 'looked after by nobody'],
          ...staff.map((s) => [s.id, `looked after by ${s.name}`] as const),
        ]}
        onChange={(v) => address.set('lookedAfter', v)}
      />
      ,{' '}
      {practices.length > 0 && (
        <>
          <Choice
            label="Practice"
            value={filter.practice ?? ''}
            options={[
              ['', 'promoting in any way'],
              ...practices.map((p) => [p.key, `with “${p.name}”`] as const),
            ]}
            onChange={(v) => address.set('practice', v)}
          />
          ,{' '}
        </>
      )}
      <Choice
        label="Only those"
        value={filter.only ?? ''}
        options={[['', 'whatever else'], ...Object.entries(rosterOnly)]}
        onChange={(v) => address.set('only', v)}
      />
      {filter.q && (
        <>
          , with “<span className="private">{filter.q}</span>” in name, site or address
        </>
      )}
      ,{' '}
      <Choice
        label="Sort"
        value={sort}
        options={[
          ['name', 'by name'],
          ['newest', 'newest first'],
        ]}
        onChange={(v) => address.set('sort', v === 'name' ? '' : v)}
      />
      : <Strong>{total.toLocaleString('en-GB')}</Strong>
    </>
  );
}
