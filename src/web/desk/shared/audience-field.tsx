import { useQuery } from '@tanstack/react-query';
import { useId, useState } from 'react';
import { listSegments } from '../../../contract/recruit/roster';
import type { SetOut } from '../../../contract/setup/sets';
import type { Audience } from '../../../core/material/audience';
import type { AudienceKind } from '../../../core/material/lists';
import { isId, type Id } from '../../../core/text/id';
import { asking } from '../../kit/asking';
import { Labelled } from '../../kit/labelled';
import { Pick } from '../../kit/pick';
import { Select } from '../../kit/select';
import { findAffiliates } from './find-affiliates';
import { setChoices, useSets } from './sets';

interface Props {
  value: Audience;
  onChange: (audience: Audience) => void;
  /** names of those who are named in it already */
  known?: readonly { id: string; name: string }[];
  disabled?: boolean;
}

const kinds: readonly (readonly [AudienceKind, string])[] = [
  ['everybody', 'Everybody'],
  ['group', 'A group'],
  ['tag', 'Those with a tag'],
  ['segment', 'A segment of the roster'],
  ['named', 'Affiliates by name'],
];

interface Segment {
  id: Id<'segment'>;
  name: string;
}

/** What an audience of a kind begins with; null where there is nothing of that kind yet. */
function beginning(kind: AudienceKind, sets: SetOut[], segments: readonly Segment[]): Audience | null {
  if (kind === 'everybody') return { kind };
  if (kind === 'named') return { kind, affiliates: [] };
  if (kind === 'segment') return segments[0] ? { kind, segment: segments[0].id } : null;
  const [first] = setChoices(sets, kind);
  return first ? { kind, set: first[0] } : null;
}

/** Whom something is for: everybody, a group, a tag, a segment, or some by name. */
export function AudienceField({ value, onChange, known = [], disabled = false }: Props) {
  const id = useId();
  const sets = useSets();
  const segments = useQuery(asking(listSegments)).data?.rows ?? [];
  const offered = kinds.filter(([kind]) => kind === value.kind || beginning(kind, sets, segments) !== null);
  return (
    <div>
      <Labelled htmlFor={id} className="mb-[3px]">
        Who may use it
      </Labelled>
      <div className="flex flex-wrap items-center gap-2">
        <Select
          id={id}
          className="w-[190px]"
          value={value.kind}
          options={offered}
          disabled={disabled}
          onPick={(kind) => {
            const begun = beginning(kind, sets, segments);
            if (begun) onChange(begun);
          }}
        />
        {(value.kind === 'group' || value.kind === 'tag') && (
          <Select
            label={value.kind === 'group' ? 'Group' : 'Tag'}
            className="w-[190px]"
            value={value.set}
            options={setChoices(sets, value.kind)}
            disabled={disabled}
            onPick={(set) => isId(set, 'set') && onChange({ kind: value.kind, set })}
          />
        )}
        {value.kind === 'segment' && (
          <Select
            label="Segment"
            className="w-[190px]"
            value={value.segment}
            options={segments.map((s) => [s.id, s.name] as const)}
            disabled={disabled}
            onPick={(segment) => isId(segment, 'segment') && onChange({ kind: 'segment', segment })}
          />
        )}
        {value.kind === 'named' && (
          <Named value={value} onChange={onChange} known={known} disabled={disabled} />
        )}
      </div>
    </div>
  );
}

type NamedAudience = Extract<Audience, { kind: 'named' }>;

function Named({
  value: { affiliates },
  onChange,
  known,
  disabled,
}: Required<Props> & { value: NamedAudience }) {
  const [picked, setPicked] = useState<ReadonlyMap<string, string>>(new Map());
  const nameOf = (id: string) => picked.get(id) ?? known.find((one) => one.id === id)?.name ?? 'somebody';
  const put = (ids: readonly Id<'affiliate'>[]) => onChange({ kind: 'named', affiliates: ids });
  return (
    <span className="flex flex-wrap items-baseline gap-x-3">
      {affiliates.map((one) => (
        <button
          key={one}
          type="button"
          className="link"
          disabled={disabled}
          title="Take out"
          onClick={() => put(affiliates.filter((other) => other !== one))}
        >
          <span className="private">{nameOf(one)}</span> ×
        </button>
      ))}
      {!disabled && (
        <Pick
          label="Affiliate"
          find={findAffiliates}
          onPick={({ id, name }) => {
            setPicked((all) => new Map([...all, [id, name]]));
            if (isId(id, 'affiliate') && !affiliates.includes(id)) put([...affiliates, id]);
          }}
        >
          {affiliates.length ? 'one more' : 'choose somebody'}
        </Pick>
      )}
    </span>
  );
}
