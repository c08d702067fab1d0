import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import type { ReplyOf } from '../../../../contract/endpoint';
import { inviteProspects, readProspect } from '../../../../contract/recruit/prospects';
import { asking } from '../../../kit/asking';
import { Button } from '../../../kit/button';
import { countryName } from '../../../kit/countries';
import { useKeys } from '../../../kit/keys';
import { Headed, Split } from '../../../kit/layout';
import { Hint, Note, Said } from '../../../kit/note';
import { Bar, Facts, Failed, Margin, Skeleton } from '../../../kit/place';
import { State } from '../../../kit/state';
import { Code, Day, Share, Sums } from '../../../kit/text';
import { useMay } from '../../roles';
import { partWords } from '../../shared/evidence-words';
import { InviteDialog } from './invite';
import { ProspectState } from './state';
import { TagDialog } from './tags';

/** A partner of the registry: who it is, its record with its parts, and what has passed between us. */
export default function ProspectPage() {
  const { id = '' } = useParams();
  const query = useQuery(asking(readProspect, { params: { id } }));
  if (query.isPending) return <Skeleton lines={9} />;
  if (query.error) return <Failed fault={query.error} retry={() => void query.refetch()} />;
  return <Found prospect={query.data} />;
}

type View = ReplyOf<typeof readProspect>;

function Found({ prospect }: { prospect: View }) {
  const id = prospect.row.id;
  const navigate = useNavigate();
  const may = useMay();
  const [inviting, setInviting] = useState(false);
  const [tagging, setTagging] = useState(false);
  const keys = useKeys([
    {
      key: 'i',
      what: 'invite',
      act: () => {
        if (may(inviteProspects)) setInviting(true);
      },
    },
    {
      key: 't',
      what: 'tag',
      act: () => {
        if (may(inviteProspects)) setTagging(true);
      },
    },
    { key: 'Escape', what: 'back to the prospects', act: () => void navigate(-1) },
  ]);

  const { row: p, intro, mismatch } = prospect;
  return (
    <>
      <Split>
        <section className="min-w-0 flex-1 overflow-auto bg-sheet px-5 py-4" tabIndex={0} aria-label={p.name}>
          <Head prospect={prospect} />
          {p.affiliate && (
            <p className="mt-2">
              An affiliate of yours:{' '}
              <Link className="link" to={`/affiliates/${p.affiliate}`}>
                its page
              </Link>
              .
            </p>
          )}
          {mismatch && (
            <Note className="mt-2">
              {p.kinds.join(', ')}: {mismatch}.
            </Note>
          )}
          <ProspectFacts prospect={prospect} />
          <h2>Introduction</h2>
          <p dir="auto" className="mt-1 max-w-[66ch] font-serif text-[14.5px] leading-[1.55]">
            {intro}
          </p>
          <h2 className="mt-5">Invitations</h2>
          <Invitations prospect={prospect} />
        </section>
        <Record prospect={prospect} />
      </Split>
      {may(inviteProspects) && p.state !== 'joined' && (
        <Bar>
          <Button look="main" keyName="I" onClick={() => setInviting(true)}>
            Invite
          </Button>
          <Button keyName="T" onClick={() => setTagging(true)}>
            Tag
          </Button>
        </Bar>
      )}
      {inviting && (
        <InviteDialog ids={[id]} onClose={() => setInviting(false)} onDone={() => setInviting(false)} />
      )}
      {tagging && <TagDialog ids={[id]} onClose={() => setTagging(false)} />}
      {keys}
    </>
  );
}

/** Its record at the registry, and what its standing is made of. */
function Record({ prospect }: { prospect: View }) {
  const { parts, row: p } = prospect;
  return (
    <Margin>
      <h2>Standing</h2>
      {parts ? (
        <div className="mt-1">
          <Sums
            rows={[
              ...parts.map((x) => ({
                label: partWords[x.part] ?? x.part,
                figure: `${x.points} of ${x.of}`,
              })),
              { label: 'Standing, of 100', figure: p.standing, weight: 'sum' as const },
            ]}
          />
        </div>
      ) : (
        <Said>No record yet.</Said>
      )}
      <h2 className="mt-5">Record at the registry</h2>
      <div className="mt-1">
        <Sums
          rows={[
            { label: 'Sales', figure: prospect.sales.toLocaleString('en-GB') },
            { label: 'Refunded of them', figure: prospect.refunds.toLocaleString('en-GB') },
            { label: 'Cleared', figure: p.cleared },
            {
              label: 'Refund rate, shrunk towards 5 %',
              figure: <Share ppm={p.refundRate} />,
              weight: 'sum',
            },
          ]}
        />
      </div>
      <Hint className="mt-2">As the registry says: sales for all programmes it lists.</Hint>
    </Margin>
  );
}

/** What passed between us, the newest first. */
function Invitations({ prospect }: { prospect: View }) {
  const { invites } = prospect;
  if (invites.length === 0) return <Said>Never invited.</Said>;
  return (
    <ul>
      {invites.map((i) => (
        <li key={i.id} className="border-b border-dotted border-rule py-2">
          <div className="flex justify-between gap-4">
            <span>
              <Day at={i.at} />, by {i.by}
              {[
                i.card && `card ${i.card}`,
                i.group && `group ${i.group}`,
                i.tags.length > 0 && `tags ${i.tags.join(', ')}`,
                i.product && `for ${i.product}`,
              ]
                .filter(Boolean)
                .map((x) => ` · ${x}`)}
            </span>
            <State is={i.state} word={i.state === 'waiting' ? 'on its way' : undefined} />
          </div>
          {i.fault && <p className="text-ochre">{i.fault}; it is tried again.</p>}
          <Hint>
            {i.state === 'sent' || i.state === 'opened' ? (
              <>
                stands until <Day at={i.expiresAt} />
              </>
            ) : (
              <>
                since <Day at={i.stateAt} />
              </>
            )}
          </Hint>
          <p dir="auto" className="mt-1 max-w-[66ch] whitespace-pre-wrap text-ink2">
            {i.message}
          </p>
        </li>
      ))}
    </ul>
  );
}

/** What it says of itself. */
function ProspectFacts({ prospect }: { prospect: View }) {
  const { row: p, vouched } = prospect;
  return (
    <Facts
      rows={[
        [
          'Sites',
          <ul key="s" className="private">
            {p.sites.map((s) => (
              <li key={s} className="break-all">
                {s}
              </li>
            ))}
          </ul>,
        ],
        ['Kind', p.kinds.join(', ')],
        ['Follow it', p.audience.toLocaleString('en-GB')],
        ['Vouched for', vouched || <span className="text-ink3">no</span>],
        [
          'Tags',
          p.tags.length ? p.tags.map((t) => t.name).join(', ') : <span className="text-ink3">none</span>,
        ],
      ]}
    />
  );
}

/** Name, id, country, and how it stands with us. */
function Head({ prospect }: { prospect: View }) {
  const { row: p, since } = prospect;
  return (
    <Headed>
      <div>
        <h1 className="private">{p.name}</h1>
        <div className="text-ink2">
          <Code>{p.id}</Code> · {countryName(p.country)} · listed since {since}
        </div>
      </div>
      <ProspectState prospect={p} />
    </Headed>
  );
}
