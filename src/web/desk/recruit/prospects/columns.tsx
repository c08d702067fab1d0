import type { Column } from '../../../kit/table';
import { Code, Name, Share } from '../../../kit/text';
import type { Prospect } from './filter';
import { ProspectState } from './state';

/** @param searching true while something is searched for: then a row says where it was found */
export const prospectColumns = (searching: boolean): Column<Prospect>[] => [
  {
    head: 'Name',
    cell: (r) => (
      <span className="block max-w-[250px] truncate">
        <Name>{r.name}</Name>
        {r.found && searching && <span className="text-ink3"> {r.found}</span>}
      </span>
    ),
  },
  {
    head: 'Sites',
    cell: (r) => (
      <span className="private block max-w-[190px] truncate text-ink2" title={r.sites.join(', ')}>
        {r.sites.map((s) => s.replace(/^https?:\/\//, '').replace(/\/$/, '')).join(', ')}
      </span>
    ),
  },
  {
    head: 'Kind',
    cell: (r) => (
      <span className="block max-w-[110px] truncate" title={r.kinds.join(', ')}>
        {r.kinds.join(', ')}
      </span>
    ),
    width: '116px',
  },
  { head: 'Country', cell: (r) => r.country, width: '64px' },
  { head: 'Audience', cell: (r) => r.audience.toLocaleString('en-GB'), figure: true, width: '80px' },
  { head: 'Cleared', cell: (r) => r.cleared, figure: true, width: '80px' },
  { head: 'Refunds', cell: (r) => <Share ppm={r.refundRate} />, figure: true, width: '70px' },
  {
    head: 'Standing',
    cell: (r) => (
      <>
        {r.vouched && <span title="The registry vouches for it">vouched · </span>}
        {r.standing ?? '—'}
      </>
    ),
    figure: true,
    width: '110px',
  },
  {
    head: 'With us',
    cell: (r) => (
      <span className="inline-flex items-center gap-2">
        <ProspectState prospect={r} />
        {r.tags.map((t) => (
          <i
            key={t.id}
            title={t.name}
            className={`inline-block size-[8px] border border-ink3 ${t.colour ? `tag-${t.colour}` : ''}`}
          />
        ))}
      </span>
    ),
    width: '150px',
  },
  { head: 'Id', cell: (r) => <Code>{r.id}</Code>, figure: true, width: '86px' },
];
