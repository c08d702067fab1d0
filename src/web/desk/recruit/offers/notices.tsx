import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import type { ReplyOf } from '../../../../contract/endpoint';
import { createNotice, listNotices, removeNotice } from '../../../../contract/recruit/offers';
import { type Id } from '../../../../core/text/id';
import { useAct } from '../../../kit/act';
import { Refused } from '../../../kit/api';
import { asking } from '../../../kit/asking';
import { Button } from '../../../kit/button';
import { FormFault } from '../../../kit/form';
import { Labelled } from '../../../kit/labelled';
import { News, Sheet } from '../../../kit/layout';
import { Empty } from '../../../kit/place';
import { SelectField } from '../../../kit/select';
import { Day } from '../../../kit/text';
import { useMay } from '../../roles';

const field = 'mt-1 w-full rounded-sm border border-rule bg-sheet px-2 py-[5px] font-normal text-ink';

type Notice = ReplyOf<typeof listNotices>['rows'][number];

/** News and notes for affiliates: they stand on offer pages and among the resources of the portal. */
export function Notices({ products }: { products: { id: Id<'product'>; name: string }[] }) {
  const query = useQuery(asking(listNotices));
  const rows = query.data?.rows ?? [];
  return (
    <Sheet tabIndex={0} aria-label="News and notes">
      <h1>News and notes</h1>
      <NoticeForm products={products} />
      <div className="mt-5 max-w-[66ch]">
        {rows.length === 0 && !query.isPending && (
          <Empty title="Nothing yet">
            News stand on offer pages and in the portal the moment they are written.
          </Empty>
        )}
        {rows.map((n) => (
          <NoticeItem key={n.id} n={n} />
        ))}
      </div>
    </Sheet>
  );
}

/** Writes one. */
function NoticeForm({ products }: { products: { id: Id<'product'>; name: string }[] }) {
  const may = useMay();
  const [kind, setKind] = useState<'news' | 'note'>('news');
  const [title, setTitle] = useState('');
  const [body, setBody] = useState('');
  const [product, setProduct] = useState<Id<'product'> | ''>('');
  const [fault, setFault] = useState<string | null>(null);
  const make = useAct(createNotice, {
    done: () => {
      setTitle('');
      setBody('');
      setFault(null);
      toast('It stands on the pages now');
    },
    failed: (f) =>
      setFault(f instanceof Refused ? f.problem.detail : 'It was not saved; what you typed is kept.'),
  });
  if (!may(createNotice)) return null;
  return (
    <form
      className="mt-3 max-w-[66ch] space-y-2"
      onSubmit={(e) => {
        e.preventDefault();
        make.mutate({ body: { kind, title, body, product: product || null } });
      }}
    >
      <FormFault>{fault}</FormFault>
      <div className="grid grid-cols-[110px_1fr_200px] gap-3">
        <SelectField
          label="Kind"
          value={kind}
          options={[
            ['news', 'news'],
            ['note', 'note'],
          ]}
          onPick={setKind}
        />
        <Labelled>
          Title
          <input
            required
            maxLength={120}
            value={title}
            onChange={(e) => setTitle(e.target.value)}
            placeholder="Wheels are back in stock"
            className={field}
          />
        </Labelled>
        <SelectField
          label="Of"
          value={product}
          options={[['' as const, 'the programme'], ...products.map((p) => [p.id, p.name] as const)]}
          onPick={setProduct}
        />
      </div>
      <Labelled>
        Text
        <textarea
          rows={3}
          maxLength={3000}
          value={body}
          onChange={(e) => setBody(e.target.value)}
          placeholder="Forty more leave the workshop on Monday."
          className={field}
        />
      </Labelled>
      <Button type="submit" look="main" busy={make.isPending}>
        Put it up
      </Button>
    </form>
  );
}

/** One piece of news, which can be removed and brought back. */
function NoticeItem({ n }: { n: Notice }) {
  const may = useMay();
  const back = useAct(removeNotice, { done: () => toast('It is back') });
  const remove = useAct(removeNotice);
  return (
    <News>
      <p className="flex justify-between gap-3">
        <span>
          <b className="font-semibold">{n.title}</b>{' '}
          <span className="text-ink3">
            {n.kind} · <Day at={n.at} />
            {n.product && <> · {n.product.name}</>}
          </span>
        </span>
        {may(removeNotice) && (
          <button
            type="button"
            className="link"
            aria-label={`Remove ${n.title}`}
            onClick={() =>
              remove.mutate(
                { params: { id: n.id }, body: { on: true } },
                {
                  onSuccess: () =>
                    toast('Removed', {
                      duration: 10_000,
                      action: {
                        label: 'Undo',
                        onClick: () => back.mutate({ params: { id: n.id }, body: { on: false } }),
                      },
                    }),
                },
              )
            }
          >
            remove
          </button>
        )}
      </p>
      <p dir="auto" className="whitespace-pre-wrap">
        {n.body}
      </p>
    </News>
  );
}
