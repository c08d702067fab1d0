import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { readSample } from '../../../../contract/setup/rate-book';
import type { Change, TermsData } from '../../../../core/terms/draft';
import type { PastOrder } from '../../../../core/terms/rehearse';
import { asking } from '../../../kit/asking';
import { useProgramme } from '../../../kit/programme';
import type { EstimateIn, EstimateOut } from './estimate.worker';

export interface Estimate {
  lines: number;
  since: number | null;
  difference: number;
  changed: number;
}

/**
 * What the last 2,000 credited lines would have cost more under the open draft and, while somebody types, one change besides.
 * @param version of the draft; null = there is none @param typed the change that is being typed, or null
 */
export function useEstimate(version: number | null, typed: Change | null): Estimate | null {
  const { base } = useProgramme();
  const wanted = version !== null || typed !== null;
  const sample = useQuery({
    ...asking(readSample, {}, version),
    enabled: wanted,
    staleTime: 60_000,
  });
  const worker = useRef<Worker | null>(null);
  const loaded = useRef<unknown>(null);
  const asked = useRef(0);
  const [result, setResult] = useState<Estimate | null>(null);
  useEffect(
    () => () => {
      worker.current?.terminate();
      worker.current = null;
      loaded.current = null;
    },
    [],
  );
  const key = JSON.stringify(typed);
  useEffect(() => {
    const data = sample.data;
    if (!data || !wanted) return;
    const timer = setTimeout(() => {
      if (!worker.current)
        worker.current = new Worker(new URL('./estimate.worker.ts', import.meta.url), { type: 'module' });
      asked.current += 1;
      const id = asked.current;
      worker.current.onmessage = ({ data: out }: MessageEvent<EstimateOut>) => {
        if (out.id === id)
          setResult({
            lines: out.lines,
            since: data.since,
            difference: out.difference,
            changed: out.changed,
          });
      };
      const own = JSON.parse(key) as Change | null;
      const message: EstimateIn = {
        id,
        base,
        changes: [...(data.changes as Change[]), ...(own ? [own] : [])],
      };
      if (loaded.current !== data)
        message.load = { orders: data.orders as PastOrder[], terms: data.terms as TermsData };
      loaded.current = data;
      worker.current.postMessage(message);
    }, 120);
    return () => clearTimeout(timer);
  }, [sample.data, key, base, wanted]);
  return wanted ? result : null;
}
