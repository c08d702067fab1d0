import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { createCreative, surveyCreatives } from '../../../../contract/equip/creatives';
import { listProducts } from '../../../../contract/setup/products';
import { creativeKinds, oneOfKind, type CreativeKind } from '../../../../core/material/lists';
import { useAddress } from '../../../kit/address';
import { asking } from '../../../kit/asking';
import { Button } from '../../../kit/button';
import { useKeys } from '../../../kit/keys';
import { Menu } from '../../../kit/menu';
import { Heading } from '../../../kit/place';
import { SearchField } from '../../../kit/search';
import { useMay } from '../../roles';
import { useSets } from '../../shared/sets';
import { useOneKind, useWholeBook } from './book';
import { BookPage } from './book-page';
import { Dropping } from './drop';
import { filterIn, isNarrowed, type Filter } from './filter';
import { CreativesSentence } from './sentence';

/** Creatives: the sample book, with the sheet of the piece that is looked at beside it. */
export default function Creatives() {
  const address = useAddress();
  const survey = useQuery(asking(surveyCreatives)).data;
  const products = useQuery(asking(listProducts, { query: { limit: 500 } })).data?.rows ?? [];
  const sets = useSets();
  const filter = filterIn(address.params);
  const [dropped, setDropped] = useState<File[]>([]);
  const may = useMay();
  const heading = (
    <Heading isLong title="Creatives" acts={<Acts onFiles={setDropped} />}>
      <CreativesSentence address={address} survey={survey} products={products} sets={sets} />
    </Heading>
  );
  const shared = {
    heading,
    narrowed: isNarrowed(filter) && survey?.total !== 0,
    onKind: (kind: CreativeKind) => address.set('kind', kind),
    onFiles: may(createCreative) ? setDropped : null,
  };
  return (
    <>
      {filter.kind ? (
        <Kind key="kind" filter={{ ...filter, kind: filter.kind }} {...shared} />
      ) : (
        <Whole key="whole" filter={filter} {...shared} />
      )}
      {dropped.length > 0 && <Dropping files={dropped} products={products} onClose={() => setDropped([])} />}
    </>
  );
}

type Shared = Omit<Parameters<typeof BookPage>[0], 'book'>;

function Whole({ filter, ...shared }: Shared & { filter: Filter }) {
  return <BookPage book={useWholeBook(filter)} {...shared} />;
}

function Kind({ filter, ...shared }: Shared & { filter: Filter & { kind: CreativeKind } }) {
  return <BookPage book={useOneKind(filter)} {...shared} />;
}

/** Searching, and what can be made. */
function Acts({ onFiles }: { onFiles: (files: File[]) => void }) {
  const may = useMay();
  const navigate = useNavigate();
  const [isOpen, setOpen] = useState(false);
  const keys = useKeys([{ key: 'n', what: 'new creative', act: () => may(createCreative) && setOpen(true) }]);
  return (
    <>
      <SearchField label="Name, subject or words" />
      <Link className="link-level" to="/creatives/coverage">
        Coverage
      </Link>
      <Link className="link-level" to="/creatives/requests">
        Asked for
      </Link>
      {may(createCreative) && (
        <Menu
          align="end"
          open={isOpen}
          onOpen={setOpen}
          trigger={
            <Button look="main" keyName="N">
              New creative
            </Button>
          }
          items={[
            ['files', 'Banners from files…'],
            ...creativeKinds.map((kind) => [kind, oneOfKind(kind).replace(/^a/, 'A')] as const),
          ]}
          onPick={(what) =>
            what === 'files' ? chooseFiles(onFiles) : void navigate(`/creatives/new/${what}`)
          }
        />
      )}
      {keys}
    </>
  );
}

/** Opens the browser's choice of files. */
function chooseFiles(onFiles: (files: File[]) => void): void {
  const input = document.createElement('input');
  input.type = 'file';
  input.multiple = true;
  input.accept = 'image/png,image/jpeg,image/gif,image/webp,image/avif,video/mp4';
  input.onchange = () => onFiles([...(input.files ?? [])]);
  input.click();
}
