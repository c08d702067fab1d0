import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Command } from 'cmdk';
import { Popover } from 'radix-ui';
import { useState, type ReactNode } from 'react';
import { wordLook } from './trigger';

export interface Picked {
  id: string;
  name: string;
  sub: string;
}

interface Props<P extends Picked> {
  label: string;
  children: ReactNode;
  find: (q: string) => Promise<P[]>;
  onPick: (picked: P) => void;
}

/** A word of a sentence that finds somebody by a few letters. */
export function Pick<P extends Picked>({ label, children, find, onPick }: Props<P>) {
  const [open, setOpen] = useState(false);
  const [q, setQ] = useState('');
  const found = useQuery({
    queryKey: ['pick', label, q],
    queryFn: () => find(q),
    enabled: open,
    placeholderData: keepPreviousData,
  });
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger aria-label={label} className={wordLook}>
        {children}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          className="z-50 w-[280px] rounded-sm border border-rule bg-sheet shadow-float"
          aria-label={label}
        >
          <Command shouldFilter={false} label={label}>
            <Command.Input
              autoFocus
              value={q}
              onValueChange={setQ}
              placeholder="Name, handle or site"
              className="w-full border-b border-rule px-3 py-2 outline-none"
            />
            <Command.List className="max-h-[280px] overflow-auto py-1">
              {found.isSuccess && found.data.length === 0 && (
                <Command.Empty className="px-3 py-2 text-ink2">Nobody has “{q}” in the name.</Command.Empty>
              )}
              {(found.data ?? []).map((p) => (
                <Command.Item
                  key={p.id}
                  value={p.id}
                  onSelect={() => {
                    onPick(p);
                    setOpen(false);
                    setQ('');
                  }}
                  className="flex cursor-pointer justify-between gap-3 px-3 py-1 data-[selected=true]:bg-copper-wash"
                >
                  <span>{p.name}</span>
                  <span className="text-ink3">{p.sub}</span>
                </Command.Item>
              ))}
            </Command.List>
          </Command>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
