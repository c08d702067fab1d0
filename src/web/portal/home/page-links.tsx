import { useQuery } from '@tanstack/react-query';
import { useId, useState } from 'react';
import { toast } from 'sonner';
import { listPageLinks, makePageLink, surveyPageLinks, type PageLink } from '../../../contract/portal/links';
import { useAct } from '../../kit/act';
import { asking } from '../../kit/asking';
import { Button } from '../../kit/button';
import { Copy } from '../../kit/copy';
import { DottedItem } from '../../kit/dotted';
import { FormFault } from '../../kit/form';
import { TextLine } from '../../kit/inputs';
import { faultInWords } from '../../kit/keeper';
import { Labelled } from '../../kit/labelled';
import { useList } from '../../kit/lists';
import { Said } from '../../kit/note';
import { QrLink } from '../../kit/qr-link';
import { SelectField } from '../../kit/select';
import { Code, Small } from '../../kit/text';
import { useLooking } from '../base';

/** Links to pages of one's own choice: made by naming one, and kept here. */
export function PageLinks() {
  const looking = useLooking();
  const list = useList(listPageLinks, {}, 10);
  if (looking && list.rows.length === 0) return null;
  return (
    <section className="mt-7" aria-labelledby="pages">
      <h2 id="pages">Links to a page of your choice</h2>
      {!looking && <MakeLink />}
      {list.rows.length > 0 && (
        <ul className="mt-2">
          {list.rows.map((row) => (
            <PageLine key={row.code} row={row} />
          ))}
        </ul>
      )}
      {list.onEnd && (
        <Button className="mt-2" onClick={list.onEnd}>
          Earlier
        </Button>
      )}
    </section>
  );
}

function PageLine({ row }: { row: PageLink }) {
  return (
    <DottedItem className="flex flex-wrap items-baseline justify-between gap-x-4">
      <span className="min-w-0 break-all">
        {row.page.replace(/^https?:\/\//, '')} <Small>{row.product.name}</Small>
        <Small below>
          <Code>{row.link}</Code>
        </Small>
      </span>
      <span>
        <Copy text={row.link} /> · <QrLink address={row.link} />
      </span>
    </DottedItem>
  );
}

function MakeLink() {
  const survey = useQuery(asking(surveyPageLinks)).data;
  const id = useId();
  const [page, setPage] = useState('');
  const [chosen, setChosen] = useState('');
  const [fault, setFault] = useState<string | null>(null);
  const make = useAct(makePageLink, {
    done: ({ link }) => {
      setPage('');
      navigator.clipboard.writeText(link).then(
        () => toast('Your link to the page is copied'),
        () => toast('Your link to the page is there'),
      );
    },
    failed: (thrown) => setFault(faultInWords(thrown)),
  });
  if (!survey || survey.products.length === 0 || survey.hosts.length === 0) return null;
  const product = chosen || survey.products[0]!.code;
  return (
    <form
      className="mt-1"
      onSubmit={(e) => {
        e.preventDefault();
        setFault(null);
        make.mutate({ body: { product, page: page.trim() } });
      }}
    >
      <FormFault>{fault}</FormFault>
      <div className="flex flex-wrap items-end gap-x-3 gap-y-2">
        <div className="min-w-[220px] flex-1">
          <Labelled htmlFor={id} className="mb-[3px]">
            Page
          </Labelled>
          <TextLine
            id={id}
            value={page}
            required
            maxLength={500}
            onText={setPage}
            placeholder={`https://${survey.hosts[0]}/…`}
          />
        </div>
        <SelectField
          label="Sells"
          value={product}
          options={survey.products.map((p) => [p.code, p.name] as const)}
          onPick={setChosen}
        />
        <Button type="submit" busy={make.isPending}>
          Make the link
        </Button>
      </div>
      <Said faint>
        On {survey.hosts.join(', ')}. <Code>?s1=</Code> to <Code>s5=</Code> behind any link tell places of
        your own apart in the figures.
      </Said>
    </form>
  );
}
