import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { createKey, renewKey, revealKey, switchPictures } from '../../../../contract/track/connection';
import { useAct } from '../../../kit/act';
import { Button } from '../../../kit/button';
import { Copy } from '../../../kit/copy';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { DottedItem } from '../../../kit/dotted';
import { Hint } from '../../../kit/note';
import { Code, Sums } from '../../../kit/text';
import { useMay } from '../../roles';
import { type KeyView } from './view';

interface Secret {
  id: string;
  secret: string;
}

/** The keys that reports are signed with; a secret is shown when it is asked for. */
export function Keys({ keys }: { keys: KeyView[] }) {
  const may = useMay();
  const [secret, setSecret] = useState<Secret | null>(null);
  const reveal = useAct(revealKey, { done: setSecret });
  const make = useAct(createKey, {
    done: (r) => {
      reveal.mutate({ params: { id: r.id } });
      toast('A key was made');
    },
  });
  return (
    <>
      <h2 className="mt-5">Keys</h2>
      <ul>
        {keys.map((k) => (
          <KeyItem key={k.id} k={k} onSecret={setSecret} />
        ))}
      </ul>
      {keys.some((k) => k.pictures) && (
        <Hint className="mt-1">
          Anybody can load a picture: what it alone reports is{' '}
          <Link className="link" to="/sales?unconfirmed=1">
            unconfirmed
          </Link>{' '}
          and earns nobody anything.
        </Hint>
      )}
      {may(createKey) && (
        <Button
          className="mt-2"
          busy={make.isPending}
          onClick={() => make.mutate({ body: { label: 'Shop' } })}
        >
          Make a key
        </Button>
      )}
      <SecretDialog secret={secret} onClose={() => setSecret(null)} />
    </>
  );
}

/** One key: whether it can be read, its secret, whether it takes pictures. */
function KeyItem({ k, onSecret }: { k: KeyView; onSecret: (secret: Secret) => void }) {
  const reveal = useAct(revealKey, { done: onSecret });
  const renew = useAct(renewKey, { done: onSecret });
  const may = useMay();
  const pictures = useAct(switchPictures, {
    done: (k) =>
      toast(
        k.pictures
          ? `${k.id} takes pictures; what they report is unconfirmed`
          : `${k.id} takes no pictures any more`,
      ),
  });
  return (
    <DottedItem>
      {!k.readable && (
        <p role="status" className="border-l-[3px] border-madder bg-madder-wash px-2 py-1">
          Its secret cannot be read: the seal key was lost or replaced, so that every report signed with it is
          turned away. Bring seal.key back from a backup
          {may(renewKey) && (
            <>
              , or{' '}
              <button
                type="button"
                className="link"
                disabled={renew.isPending}
                onClick={() => renew.mutate({ params: { id: k.id } })}
              >
                make the secret anew
              </button>{' '}
              and give it to the shop
            </>
          )}
          .
        </p>
      )}
      <span className="flex justify-between">
        <span>
          <Code>{k.id}</Code> <span className="text-ink3">{k.label}</span>
        </span>
        {may(revealKey) && k.readable && (
          <button type="button" className="link" onClick={() => reveal.mutate({ params: { id: k.id } })}>
            secret
          </button>
        )}
      </span>
      <label className="flex items-center gap-2 text-ink2">
        <input
          type="checkbox"
          className="accent-copper"
          disabled={!may(switchPictures) || pictures.isPending}
          checked={k.pictures}
          onChange={(e) => pictures.mutate({ params: { id: k.id }, body: { on: e.target.checked } })}
        />{' '}
        takes fallback pictures
      </label>
    </DottedItem>
  );
}

/** The secret of a key, to be given to the shop. */
function SecretDialog({ secret, onClose }: { secret: Secret | null; onClose: () => void }) {
  return (
    <Dialog
      wide
      open={secret !== null}
      onClose={onClose}
      title={`Key ${secret?.id ?? ''}`}
      about="Give both to the shop. Whoever has the secret can report sales."
    >
      <Sums
        rows={[
          {
            label: 'Key',
            figure: (
              <>
                <Code>{secret?.id}</Code> {secret && <Copy text={secret.id} />}
              </>
            ),
          },
          {
            label: 'Secret',
            figure: (
              <>
                <Code>{secret?.secret}</Code> {secret && <Copy text={secret.secret} />}
              </>
            ),
          },
        ]}
      />
      <DialogFoot>
        <Button onClick={onClose}>Close</Button>
      </DialogFoot>
    </Dialog>
  );
}
