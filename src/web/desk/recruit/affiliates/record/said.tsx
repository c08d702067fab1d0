import { Link } from 'react-router';
import { DottedItem } from '../../../../kit/dotted';
import { Said } from '../../../../kit/note';
import { State } from '../../../../kit/state';
import { Day, Moment } from '../../../../kit/text';
import { type View } from './view';

/** The messages it got, the newest first. */
export function Messages({ affiliate }: { affiliate: View }) {
  if (affiliate.messages.length === 0) return <Said>None yet.</Said>;
  return (
    <ul>
      {affiliate.messages.map((m) => (
        <DottedItem key={m.id}>
          <details>
            <summary className="grid cursor-pointer grid-cols-[130px_1fr_auto] gap-2">
              <span className="text-ink3">
                <Moment at={m.at} />
              </span>
              <span className="private">{m.subject}</span>
              <State is={m.state} />
            </summary>
            {m.fault && <p className="text-madder">{m.fault}</p>}
            <p
              dir="auto"
              className="private ml-[138px] max-w-[66ch] py-1 font-serif whitespace-pre-wrap text-ink2"
            >
              {m.body}
            </p>
          </details>
        </DottedItem>
      ))}
    </ul>
  );
}

/** What it applied for. */
export function Applications({ affiliate }: { affiliate: View }) {
  if (affiliate.applications.length === 0) return <Said>Never applied here.</Said>;
  return (
    <ul>
      {affiliate.applications.map((a) => (
        <DottedItem key={a.id} apart>
          <Link className="link" to={`/applications/${a.id}?state=${a.state}`}>
            <Day at={a.at} /> · {a.product ?? 'whole programme'}
          </Link>
          <State is={a.state} />
        </DottedItem>
      ))}
    </ul>
  );
}
