import type { PortalHome } from '../../../contract/portal/home';
import { Copy } from '../../kit/copy';
import { Said } from '../../kit/note';
import { QrLink } from '../../kit/qr-link';
import { Code, Money, Strong } from '../../kit/text';

/** Bringing others in, and what it has earned. */
export function Bringing({ referral }: { referral: PortalHome['referral'] }) {
  if (!referral) return null;
  return (
    <section className="mt-6" aria-labelledby="bring">
      <h2 id="bring">Bring others in</h2>
      <p className="mt-1 break-all">
        <Code>{referral.address}</Code> <Copy text={referral.address} /> ·{' '}
        <QrLink address={referral.address} />
      </p>
      <Said>
        {referral.said}{' '}
        {referral.count > 0 && (
          <>
            {referral.count === 1 ? 'One has' : `${referral.count} have`} joined by you and earned you{' '}
            <Strong>
              <Money value={referral.earned} />
            </Strong>
            .
          </>
        )}
      </Said>
    </section>
  );
}
