import { useFormContext } from 'react-hook-form';
import { type ProductOut } from '../../../../../contract/setup/products';
import type { Delivery } from '../../../../../core/pricing/lists';
import { Field } from '../../../../kit/form';
import { SelectOf } from '../../../../kit/picked-fields';
import { DeliveryFile } from '../uploads';
import { Check, Part, properties, type Bound, type Values } from './part';

const sampleValues: Record<string, string> = {
  email: 'ada@buyers.example',
  quantity: '1',
  order: 'Q-10042',
};

/** The address that a buyer would be led to, with made-up details of a sale. */
function sampleOf(page: string | undefined, parameters: string | undefined, product: ProductOut | null) {
  const values = { ...sampleValues, product: product?.code ?? 'WHEEL-1' };
  const query = (parameters ?? '')
    .split(/[,\s]+/)
    .filter(Boolean)
    .map((name) => `${name}=${values[name as keyof typeof values] ?? values.product}`);
  return `${page || 'https://…'}?${query.join('&')}`;
}

/** Delivery, support, receipt. */
export function AfterTheSale({
  product,
  bound,
  delivery,
}: {
  product: ProductOut | null;
  bound: Bound;
  delivery: Delivery | undefined;
}) {
  const { watch } = useFormContext<Values>();
  return (
    <Part
      title="After the sale"
      open={Boolean(
        product &&
        (product.delivery !== 'none' ||
          product.saleNotice ||
          product.confirmOffer ||
          product.supportAddress ||
          product.receiptNote),
      )}
      about="delivery, support, receipt"
    >
      <SelectOf
        name="delivery"
        schema={properties.delivery}
        options={[
          ['none', 'Nothing to deliver'],
          ['file', 'A file to download'],
          ['access', 'An access page'],
          ['shipped', 'Shipped'],
        ]}
        {...bound}
      />
      {delivery === 'access' ? (
        <Field
          name="accessPage"
          schema={properties.accessPage}
          {...bound}
          hint="Buyers are led here after the sale"
        />
      ) : delivery === 'file' ? (
        <Field
          name="downloadDays"
          kind="number"
          schema={properties.downloadDays}
          {...bound}
          unit="days"
          hint="Only buyers get the link; after that they ask for a new one"
        />
      ) : (
        <span />
      )}
      {delivery === 'file' && (
        <div className="col-span-2">
          <DeliveryFile product={product} disabled={bound.disabled} />
        </div>
      )}
      {delivery === 'access' && (
        <div className="col-span-2">
          <Field
            name="accessParameters"
            schema={properties.accessParameters}
            {...bound}
            label="Details of the sale that are passed on to it"
            hint={`Of order, product, email, quantity. A sample: ${sampleOf(watch('accessPage'), watch('accessParameters'), product)}`}
          />
        </div>
      )}
      <Field
        name="supportAddress"
        schema={properties.supportAddress}
        {...bound}
        hint="Buyers read it on the receipt; empty = the programme’s contact"
      />
      <Field name="supportPage" schema={properties.supportPage} {...bound} />
      <div className="col-span-2">
        <Field name="receiptNote" schema={properties.receiptNote} {...bound} hint="A line on the receipt" />
      </div>
      <Check
        name="saleNotice"
        bound={bound}
        label="Tell us of each sale by mail"
        hint={`A message to the programme’s contact for every sale of it`}
      />
      <Check
        name="confirmOffer"
        bound={bound}
        label="Offered on the confirmation page"
        hint="Of other sales, while it is on sale; never to somebody who has just bought it"
      />
      {watch('confirmOffer') && (
        <div className="col-span-2">
          <Field
            name="confirmNotAfter"
            schema={properties.confirmNotAfter}
            {...bound}
            hint="Codes, parted by commas: after a sale of these it is not offered"
          />
        </div>
      )}
    </Part>
  );
}
