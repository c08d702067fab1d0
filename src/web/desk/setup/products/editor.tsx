import { useQuery } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { FormProvider, useFormContext } from 'react-hook-form';
import { useNavigate } from 'react-router';
import {
  createProduct,
  editProduct,
  readProduct,
  type ProductOut,
} from '../../../../contract/setup/products';
import type { Id } from '../../../../core/text/id';
import { asking } from '../../../kit/asking';
import { Field, FormFault } from '../../../kit/form';
import { useKeys } from '../../../kit/keys';
import { Split } from '../../../kit/layout';
import { SelectOf } from '../../../kit/picked-fields';
import { Failed, Heading, Skeleton } from '../../../kit/place';
import { RestoredNote } from '../../../kit/restored';
import { State } from '../../../kit/state';
import { useMay } from '../../roles';
import { JoinAddress } from '../../shared/join-address';
import { EditorBar, MoveDialog, type Move } from './acts';
import { CommissionPart } from './fields/commission';
import { PagesPart } from './fields/pages';
import { kinds, properties, type Bound, type Values } from './fields/part';
import { PricePart } from './fields/price';
import { useProductForm, useProposedCode, useSaving } from './form';
import { ProductMargin } from './margin';

export default function ProductEditor({ id }: { id?: Id<'product'> }) {
  return id ? <Saved id={id} /> : <Editor key="new" product={null} />;
}

function Saved({ id }: { id: Id<'product'> }) {
  const product = useQuery(asking(readProduct, { params: { id } }));
  if (product.isPending) return <Skeleton />;
  if (product.error) return <Failed fault={product.error} retry={() => void product.refetch()} />;
  // a new version of the record begins the form anew
  return <Editor key={`${id}-${product.data.version}`} product={product.data} />;
}

function Editor({ product }: { product: ProductOut | null }) {
  const navigate = useNavigate();
  const may = useMay();
  const mayEdit = may(product ? editProduct : createProduct);
  const editing = useProductForm(product, mayEdit);
  const { form, isRestored, restored } = editing;
  const saving = useSaving(product, editing);
  const codeTyped = useProposedCode(form, product !== null || Boolean(restored?.code));
  const [moving, setMoving] = useState<Move | null>(null);
  const discard = () => {
    editing.discard();
    saving.clear();
  };
  const keys = useKeys([{ key: 'Escape', what: 'back to the list', act: () => void navigate('/products') }]);
  return (
    <>
      <Split>
        <form
          id="product"
          noValidate
          className="min-w-0 flex-1 overflow-auto bg-sheet"
          onSubmit={(e) => void saving.save(e)}
          onInput={(e) => {
            if ((e.target as HTMLInputElement).name === 'code') codeTyped();
          }}
        >
          <ProductHead product={product} />
          <FormProvider {...form}>
            <ProductFields
              product={product}
              disabled={!mayEdit}
              said={
                <>
                  <FormFault>{saving.fault}</FormFault>
                  {isRestored && <RestoredNote discard={discard} />}
                  {editing.edit.note(saving.put)}
                </>
              }
            />
          </FormProvider>
        </form>
        <ProductMargin values={form.watch()} product={product} />
      </Split>
      <EditorBar
        product={product}
        mayEdit={mayEdit}
        dirty={form.formState.isDirty}
        price={form.watch('price')}
        saving={form.formState.isSubmitting}
        discard={discard}
        onMove={setMoving}
      />
      {moving && product && <MoveDialog product={product} move={moving} onClose={() => setMoving(null)} />}
      {keys}
    </>
  );
}

function ProductHead({ product }: { product: ProductOut | null }) {
  if (!product) return <Heading title="New product">A draft until you put it live</Heading>;
  return (
    <Heading title={product.name} acts={<State is={product.state} />}>
      <JoinAddress address={product.joinAddress} />
    </Heading>
  );
}

/** All fields of the form. @param said faults and what others changed, above the fields */
function ProductFields({
  product,
  disabled,
  said,
}: {
  product: ProductOut | null;
  disabled: boolean;
  said: ReactNode;
}) {
  const {
    control,
    register,
    formState: { errors },
  } = useFormContext<Values>();
  const bound = { control, register, errors, disabled };
  return (
    <>
      <div className="grid max-w-[760px] grid-cols-2 gap-x-5 gap-y-4 px-5">
        <div className="col-span-2 space-y-2">{said}</div>
        <FirstFields input={bound} product={product} />
      </div>
      <div className="max-w-[760px] px-5 pb-8">
        <PricePart bound={bound} product={product} />
        <CommissionPart bound={bound} product={product} />
        <PagesPart bound={bound} product={product} />
      </div>
    </>
  );
}

/** What every product has. */
function FirstFields({ input, product }: { input: Bound; product: ProductOut | null }) {
  return (
    <>
      <SelectOf
        name="kind"
        schema={properties.kind}
        options={kinds}
        {...input}
        hint={
          product && product.sold > 0
            ? 'Sold already: it cannot change; copy the product instead'
            : 'Then only what that kind needs is asked for'
        }
      />
      <Field
        name="refundDays"
        kind="number"
        schema={properties.refundDays}
        {...input}
        unit="days"
        hint="Commissions are held until it has passed; 0 = none"
      />
      <Field name="name" schema={properties.name} {...input} hint="As buyers and affiliates read it" />
      <Field
        name="code"
        schema={properties.code}
        {...input}
        hint="What the shop calls it in its reports; letters, digits, dashes"
      />
      <div className="col-span-2">
        <Field name="description" kind="area" schema={properties.description} {...input} rows={3} />
      </div>
    </>
  );
}
