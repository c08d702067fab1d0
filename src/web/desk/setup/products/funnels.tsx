import { useQuery } from '@tanstack/react-query';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { createFunnel, listFunnels, type FunnelOut } from '../../../../contract/setup/funnels';
import { listProducts } from '../../../../contract/setup/products';
import { counted } from '../../../../core/text/counted';
import { asking } from '../../../kit/asking';
import { Button } from '../../../kit/button';
import { useKeys } from '../../../kit/keys';
import { Blank, Split } from '../../../kit/layout';
import { Empty, Failed, Heading, Skeleton } from '../../../kit/place';
import { useMay } from '../../roles';
import { FunnelEditor } from './funnel/editor';

/** Funnels: an opening product and the offers that follow it. */
export default function Funnels() {
  const navigate = useNavigate();
  const funnels = useQuery(asking(listFunnels));
  const products = useQuery(asking(listProducts, { query: { limit: 500 } }));
  const [params, setParams] = useSearchParams();
  const open = params.get('funnel');
  const setOpen = (id: string | null) => setParams(id ? { funnel: id } : {}, { replace: true });
  const keys = useKeys([
    { key: 'Escape', what: 'back to the products', act: () => void navigate('/products') },
  ]);
  if (funnels.isPending || products.isPending) return <Skeleton />;
  if (funnels.error || products.error)
    return (
      <Failed
        fault={funnels.error ?? products.error}
        retry={() => {
          void funnels.refetch();
          void products.refetch();
        }}
      />
    );
  const rows = funnels.data.rows;
  const chosen = rows.find((f) => f.id === open) ?? null;
  const usable = products.data.rows.filter((p) => p.state !== 'retired');
  return (
    <Split>
      <FunnelList rows={rows} open={open} setOpen={setOpen} />
      {open === 'new' || chosen ? (
        <FunnelEditor
          key={chosen?.id ?? 'new'}
          funnel={chosen}
          products={usable}
          onDone={(f) => setOpen(f?.id ?? null)}
        />
      ) : (
        <Blank>
          <Empty title={rows.length ? 'Choose a funnel' : 'No funnel yet'}>
            A funnel offers something more right after a purchase. Each offer can have its own price, and its
            own rate in the rate book.
          </Empty>
        </Blank>
      )}
      {keys}
    </Split>
  );
}

function FunnelList({
  rows,
  open,
  setOpen,
}: {
  rows: FunnelOut[];
  open: string | null;
  setOpen: (id: string) => void;
}) {
  const may = useMay();
  return (
    <section
      className="w-[300px] shrink-0 overflow-auto border-r border-rule"
      tabIndex={0}
      aria-label="Funnels"
    >
      <Heading title="Funnels">
        <Link className="link" to="/products">
          Products
        </Link>
      </Heading>
      <ul>
        {rows.map((f) => (
          <li
            key={f.id}
            className={`border-b border-rule2 ${f.id === open ? 'bg-sheet shadow-[inset_3px_0_var(--color-copper)]' : ''}`}
          >
            <button type="button" className="w-full px-5 py-[7px] text-left" onClick={() => setOpen(f.id)}>
              <span className="block font-semibold">{f.name}</span>
              <span className="text-ink3">
                {f.openingName}, then {counted(f.steps.length, 'offer')}
              </span>
            </button>
          </li>
        ))}
      </ul>
      {may(createFunnel) && (
        <div className="px-5 py-3">
          <Button onClick={() => setOpen('new')}>New funnel</Button>
        </div>
      )}
    </section>
  );
}
