import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useParams } from 'react-router';
import { chooseLetters, readLetters } from '../../contract/recruit/letters';
import { call } from '../kit/api';
import { asking } from '../kit/asking';
import { Button } from '../kit/button';
import { Letter } from '../kit/layout';
import { Failed, Skeleton } from '../kit/place';

/** Where somebody stops letters, or gets them again: reached from the foot of each. */
export default function LettersPage() {
  const { token = '' } = useParams();
  const queries = useQueryClient();
  const page = useQuery({
    ...asking(readLetters, { params: { token } }),
    retry: false,
  });
  const [busy, setBusy] = useState(false);
  if (page.isPending) return <Skeleton />;
  if (page.error)
    return (
      <Letter>
        <Failed fault={page.error} />
      </Letter>
    );
  const { programme, name, on } = page.data;
  const choose = async () => {
    setBusy(true);
    try {
      queries.setQueryData(
        asking(readLetters, { params: { token } }).queryKey,
        await call(chooseLetters, { params: { token }, body: { on: !on } }),
      );
    } finally {
      setBusy(false);
    }
  };
  return (
    <Letter>
      <p className="text-ink2">{programme}</p>
      <h1>Letters to {name}</h1>
      <p role="status" className="mt-3">
        {on
          ? 'You get letters with news. What concerns your payments and your terms comes in any case.'
          : 'You get no letters. What concerns your payments and your terms still comes.'}
      </p>
      <Button className="mt-4" look={on ? 'main' : 'quiet'} busy={busy} onClick={() => void choose()}>
        {on ? 'No more letters' : 'Letters again, please'}
      </Button>
    </Letter>
  );
}
