import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { readFeeds, renewFeeds, type OwnFeeds } from '../../contract/portal/feeds';
import { useAct } from '../kit/act';
import { asking } from '../kit/asking';
import { Button } from '../kit/button';
import { Confirm } from '../kit/confirm';
import { Copy } from '../kit/copy';
import { Said } from '../kit/note';
import { Code } from '../kit/text';
import { useLooking } from './base';

/** The addresses of one's feeds: made when they are wanted, renewed when somebody else has them. */
export function Feeds() {
  const looking = useLooking();
  const feeds = useQuery(asking(readFeeds)).data;
  const [asked, setAsked] = useState(false);
  const renew = useAct(renewFeeds, {
    done: () => {
      setAsked(false);
      toast('The addresses are there');
    },
  });
  if (!feeds) return null;
  return (
    <section aria-labelledby="feeds">
      <h2 id="feeds">Feeds</h2>
      <Said>
        For programs: coupons and products with your own links, always as they are now. Whoever has such an
        address reads them as you.
      </Said>
      {feeds.own ? (
        <Addresses own={feeds.own} />
      ) : (
        <p className="mt-1 text-ink3">{looking ? 'Their addresses are the affiliate’s own.' : 'None yet.'}</p>
      )}
      <ul className="mt-1">
        <Line name="Offers, for everybody" address={feeds.offers.rss} />
      </ul>
      {!looking && (
        <Button
          className="mt-2"
          busy={renew.isPending}
          onClick={() => (feeds.own ? setAsked(true) : renew.mutate({}))}
        >
          {feeds.own ? 'Make new addresses' : 'Make the addresses'}
        </Button>
      )}
      <Confirm
        open={asked}
        onClose={() => setAsked(false)}
        title="Make new addresses"
        about="Those of before end at once: whatever reads them has to be told."
        act="Make them anew"
        onAct={() => renew.mutate({})}
        busy={renew.isPending}
      />
    </section>
  );
}

function Addresses({ own }: { own: NonNullable<OwnFeeds['own']> }) {
  return (
    <ul className="mt-1">
      <Line name="Coupons, RSS" address={own.coupons.rss} />
      <Line name="Coupons, JSON Feed" address={own.coupons.json} />
      <Line name="Products, RSS" address={own.products.rss} />
      <Line name="Products, CSV" address={own.products.csv} />
      <Line name="Products, JSON Feed" address={own.products.json} />
    </ul>
  );
}

function Line({ name, address }: { name: string; address: string }) {
  return (
    <li className="flex flex-wrap items-baseline gap-x-3 border-b border-dotted border-rule py-1">
      <span className="w-[150px] text-ink2">{name}</span>
      <span className="private min-w-0 flex-1 break-all">
        <Code>{address}</Code>
      </span>
      <Copy text={address} />
    </li>
  );
}
