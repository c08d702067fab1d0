import { useState } from 'react';
import { toast } from 'sonner';
import {
  dropPicture,
  largestFile,
  largestPicture,
  setFile,
  setPicture,
  type ProductOut,
} from '../../../../contract/setup/products';
import { sizeInWords } from '../../../../core/text/plain';
import { useAct } from '../../../kit/act';
import { Refused } from '../../../kit/api';
import { FieldName } from '../../../kit/labelled';
import { Hint, Wrong } from '../../../kit/note';
import { Day } from '../../../kit/text';
import { Choose } from '../../../kit/upload';
import { useMay } from '../../roles';

const said = (fault: unknown) =>
  fault instanceof Refused ? fault.problem.detail : 'It was not uploaded; try again.';

/** The picture of a product, with another to upload. */
export function PictureOf({ product }: { product: ProductOut }) {
  const may = useMay();
  const [fault, setFault] = useState<string | null>(null);
  const set = useAct(setPicture, {
    done: () => toast('The picture is kept'),
    failed: (f) => setFault(said(f)),
  });
  const drop = useAct(dropPicture, { done: () => toast('Back to the generated picture') });
  return (
    <div className="w-[112px] shrink-0">
      <img
        src={product.picture}
        alt=""
        width={112}
        height={112}
        className="aspect-square w-full border border-rule object-cover"
      />
      {may(setPicture) && (
        <Choose
          label={product.ownPicture ? 'another' : 'upload one'}
          accept="image/jpeg,image/png,image/gif,image/webp"
          most={largestPicture}
          busy={set.isPending}
          onFault={setFault}
          onFile={(file) => {
            setFault(null);
            set.mutate({ params: { id: product.id }, query: { name: file.name }, file });
          }}
        >
          {product.ownPicture && (
            <button
              type="button"
              className="link"
              onClick={() => drop.mutate({ params: { id: product.id } })}
            >
              remove
            </button>
          )}
        </Choose>
      )}
      {fault && <Wrong role="alert">{fault}</Wrong>}
    </div>
  );
}

/** The file that buyers get. */
export function DeliveryFile({ product, disabled }: { product: ProductOut | null; disabled: boolean }) {
  const [fault, setFault] = useState<string | null>(null);
  const set = useAct(setFile, {
    done: (p) => toast(`${p.file?.name ?? 'The file'} is kept`),
    failed: (f) => setFault(said(f)),
  });
  if (!product) return <p className="text-ink2">The file is uploaded once the draft is there.</p>;
  return (
    <div>
      <FieldName>File</FieldName>
      {disabled ? (
        (product.file?.name ?? 'none yet')
      ) : (
        <Choose
          label={product.file ? 'put another in its place' : 'choose a file, or drop it here'}
          most={largestFile}
          busy={set.isPending}
          onFault={setFault}
          onFile={(file) => {
            setFault(null);
            set.mutate({ params: { id: product.id }, query: { name: file.name }, file });
          }}
        >
          {product.file && (
            <>
              {product.file.name}, {sizeInWords(product.file.size)}, since <Day at={product.file.at} /> ·{' '}
            </>
          )}
        </Choose>
      )}
      {fault ? (
        <Wrong role="alert">{fault}</Wrong>
      ) : (
        <Hint className="mt-1">
          At most {sizeInWords(largestFile)}. The shop gets a link for each buyer with the answer to the
          order; who has one already gets the newest file by it.
        </Hint>
      )}
    </div>
  );
}
