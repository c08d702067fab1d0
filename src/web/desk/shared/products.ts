import { useQuery } from '@tanstack/react-query';
import { listProducts } from '../../../contract/setup/products';
import { asking } from '../../kit/asking';

/** The products as choices, id and name; none as long as they are not read. @param which only those that are live, or all */
export function useProductChoices(which: 'live' | 'all') {
  const products = useQuery({
    ...asking(listProducts, { query: { limit: 500, ...(which === 'live' ? { state: 'live' } : {}) } }),
  });
  return (products.data?.rows ?? []).map((p) => [p.id, p.name] as const);
}
