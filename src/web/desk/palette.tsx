import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Command } from 'cmdk';
import { useState } from 'react';
import { search } from '../../contract/lookback/today';
import { createRun } from '../../contract/settle/payouts';
import { createProduct } from '../../contract/setup/products';
import { asking } from '../kit/asking';
import { rowsFor } from './palette-rows';
import { places } from './places';
import { useMay } from './roles';

const itemLook =
  'flex cursor-pointer justify-between gap-4 px-4 py-[7px] data-[selected=true]:bg-copper-wash';

/** Finds products, affiliates, sales and payments, and goes to places. */
export default function Palette({ onClose, go }: { onClose: () => void; go: (to: string) => void }) {
  const [text, setText] = useState('');
  const may = useMay();
  const q = text.trim();
  const found = useQuery({
    ...asking(search, { query: { q } }),
    enabled: q.length > 0,
    placeholderData: keepPreviousData,
  });
  const acts = [
    ...places.map((p) => ({ title: p.name, sub: 'go', to: p.to })),
    { title: 'Settings', sub: 'go', to: '/settings' },
    { title: 'Screening rules', sub: 'go', to: '/applications/rules' },
    { title: 'Invitations', sub: 'go', to: '/prospects/invitations' },
    { title: 'News and notes', sub: 'go', to: '/offers?news=1' },
    { title: 'As affiliates see it', sub: 'go', to: '/as' },
    ...(may(createProduct) ? [{ title: 'New product', sub: 'do', to: '/products/new' }] : []),
    ...(may(createRun) ? [{ title: 'Draft a payout run', sub: 'do', to: '/payouts?draft=1' }] : []),
  ].filter((a) => q === '' || a.title.toLowerCase().includes(q.toLowerCase()));
  const rows = rowsFor(q, found.data?.rows ?? [], found.isPlaceholderData);
  const values = [...rows.map((r) => r.to + r.title), ...acts.map((a) => `act ${a.title}`)];
  const [chosen, setChosen] = useState('');
  // what Enter does is always the line that is marked, also while the list changes under it
  const marked = values.includes(chosen) ? chosen : (values[0] ?? '');
  return (
    <Command.Dialog
      open
      onOpenChange={(open) => {
        if (!open) onClose();
      }}
      label="Find or do anything"
      shouldFilter={false}
      value={marked}
      onValueChange={setChosen}
      overlayClassName="fixed inset-0 z-40 bg-ink/25"
      contentClassName="fixed left-1/2 top-[12vh] z-50 w-[min(620px,94vw)] -translate-x-1/2 overflow-hidden rounded-sm border border-rule bg-sheet shadow-float"
    >
      <Command.Input
        value={text}
        onValueChange={setText}
        placeholder="A name, a code, a site, an order, a place"
        className="w-full border-b border-rule px-4 py-3 text-[15px] outline-none"
      />
      <Command.List className="max-h-[52vh] overflow-auto py-1">
        {q && found.isSuccess && !found.isPlaceholderData && rows.length === 0 && acts.length === 0 && (
          <Command.Empty className="px-4 py-3 text-ink2">
            Nothing has “{q}” in its name, code, site or reference.
          </Command.Empty>
        )}
        {rows.map((r) => (
          <Command.Item
            key={r.to + r.title}
            value={r.to + r.title}
            onSelect={() => go(r.to)}
            className={itemLook}
          >
            <span>
              <b className={r.kind === 'Product' ? 'font-semibold' : 'private font-semibold'}>{r.title}</b>{' '}
              <span className={r.kind === 'Product' ? 'text-ink3' : 'private text-ink3'}>
                {r.sub.slice(0, 60)}
              </span>
            </span>
            <span className="text-ink3">{r.kind}</span>
          </Command.Item>
        ))}
        {acts.map((a) => (
          <Command.Item
            key={a.to + a.title}
            value={`act ${a.title}`}
            onSelect={() => go(a.to)}
            className={itemLook}
          >
            <span>{a.title}</span>
            <span className="text-ink3">{a.sub}</span>
          </Command.Item>
        ))}
      </Command.List>
    </Command.Dialog>
  );
}
