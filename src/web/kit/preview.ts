import { useEffect, useState } from 'react';
import type { AnyEndpoint, BodyOf, ReplyOf } from '../../contract/endpoint';
import { useAct } from './act';
import { Refused } from './api';

/**
 * What an act would do with what is typed so far: asked anew a moment after each change.
 * @param body what would be sent, null as long as there is nothing to ask
 * @returns the last answer, what is refused of the current text, and a way to show a fault of the act itself at the same place
 */
export function usePreview<E extends AnyEndpoint>(
  end: E,
  body: BodyOf<E> | null,
  { wait = 250 }: { wait?: number } = {},
) {
  const [view, setView] = useState<ReplyOf<E> | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const failed = (thrown: unknown) =>
    setFault(thrown instanceof Refused ? thrown.problem.detail : 'It was not sent; what you typed is kept.');
  const { mutate: look } = useAct(end, {
    done: (answer) => {
      setView(answer);
      setFault(null);
    },
    failed,
  });
  const text = JSON.stringify(body);
  useEffect(() => {
    const asked = JSON.parse(text) as BodyOf<E> | null;
    if (asked === null) return undefined;
    const timer = setTimeout(() => look({ body: asked }), wait);
    return () => clearTimeout(timer);
  }, [text, look, wait]);
  return { view, fault, failed };
}
