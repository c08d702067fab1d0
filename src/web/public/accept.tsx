import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useParams } from 'react-router';
import { acceptByLink, readPolicyByLink } from '../../contract/setup/policy';
import { asking } from '../kit/asking';
import { FormFault } from '../kit/form';
import { faultInWords } from '../kit/keeper';
import { Letter, Page, Reading } from '../kit/layout';
import { Note, Said } from '../kit/note';
import { OwnPolicy } from '../kit/own-policy';
import { Failed, Skeleton } from '../kit/place';
import { useSend } from '../kit/send';

/** Where an affiliate reads new terms and accepts them: reached by the link of its own mail, without signing in. */
export default function AcceptPage() {
  const { token = '' } = useParams();
  const asked = asking(readPolicyByLink, { params: { token } });
  const page = useQuery({ ...asked, retry: false });
  const queries = useQueryClient();
  const send = useSend(acceptByLink);
  const [fault, setFault] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  if (page.isPending) return <Skeleton />;
  if (page.error)
    return (
      <Letter>
        <Failed fault={page.error} />
      </Letter>
    );
  const { programme, contact, name, current, over } = page.data;
  const accept = async () => {
    setBusy(true);
    setFault(null);
    try {
      queries.setQueryData(asked.queryKey, await send({ params: { token } }));
    } catch (thrown) {
      setFault(faultInWords(thrown));
    } finally {
      setBusy(false);
    }
  };
  return (
    <Page tabIndex={0}>
      <Reading>
        <p className="text-ink2">
          {programme}, for <span className="private">{name}</span>
        </p>
        <h1>Terms for affiliates</h1>
        <FormFault>{fault}</FormFault>
        {over && (
          <Note role="status" className="mt-3">
            {over}
          </Note>
        )}
        {current && <OwnPolicy policy={current} busy={busy} onAccept={() => void accept()} />}
        <Said gap={8} faint>
          Questions:{' '}
          <a className="link" href={`mailto:${contact}`}>
            {contact}
          </a>{' '}
          ·{' '}
          <a className="link" href="/portal">
            The portal
          </a>
        </Said>
      </Reading>
    </Page>
  );
}
