import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import {
  createProduct,
  editProduct,
  readProduct,
  ProductIn as Schema,
  type ProductOut,
} from '../../../../contract/setup/products';
import { proposeCode } from '../../../../core/pricing/readiness';
import { asking } from '../../../kit/asking';
import { type Begun } from '../../../kit/begun';
import { placeFaults, resolverOf } from '../../../kit/form';
import { useKeptForm } from '../../../kit/kept-form';
import { useProgramme } from '../../../kit/programme';
import { useRefresh } from '../../../kit/refresh';
import { useSend } from '../../../kit/send';
import { properties, type Values } from './fields/part';

const fields = Object.keys(properties);

/** What the form holds of a product: everything that can be typed. */
function valuesOf(p: ProductOut): Values {
  const values: unknown = Object.fromEntries(fields.map((f) => [f, p[f as keyof ProductOut]]));
  return values as Values;
}

const blank = (base: string): Values => ({
  code: '',
  name: '',
  description: '',
  currency: base,
  price: '',
  refundDays: 14,
  salesPage: '',
  rewardKind: 'percent',
  reward: '',
  kind: 'one-off',
  prices: {},
  step: '',
  stepEvery: '',
  stepCeiling: '',
  stock: '',
  listed: true,
  recruiting: 'reviewed',
  trialDays: 0,
  renewalPrice: '',
  interval: 'month',
  intervalDays: 30,
  renewals: '',
  renewalName: '',
  renewalAbout: '',
  noticeDays: 3,
  instalments: 3,
  renewalRewardKind: 'none',
  renewalReward: '',
  delivery: 'none',
  accessPage: '',
  accessParameters: '',
  mobilePage: '',
  fallbackPage: '',
  furtherPages: '',
  prelaunchPage: '',
  handParameter: '',
  handAs: 'handle',
  launchAt: '',
  supportAddress: '',
  supportPage: '',
  receiptNote: '',
  saleNotice: false,
  downloadDays: 7,
  confirmOffer: false,
  confirmNotAfter: '',
  contentKind: '',
  language: 'en',
  categories: '',
  keywords: '',
});

/** Saving a product that is there, or a new one. @returns what is there then */
function useSaveProduct(product: ProductOut | null) {
  const edit = useSend(editProduct);
  const create = useSend(createProduct);
  return (input: Values, version: number) =>
    product ? edit({ params: { id: product.id }, body: { ...input, version } }) : create({ body: input });
}

const read = (current: unknown): Begun<Values> => ({
  values: valuesOf(current as ProductOut),
  version: (current as ProductOut).version,
});

/** The form of a product: what is typed outlives a reload, what others saved meanwhile is taken or shown. */
export function useProductForm(product: ProductOut | null, mayEdit: boolean) {
  const { base } = useProgramme();
  const now: Begun<Values> = product ? read(product) : { values: blank(base), version: 0 };
  return useKeptForm<Values>({
    name: product?.id ?? 'new-product',
    now,
    title: (field) => properties[field as keyof typeof properties]?.title ?? field,
    resolver: resolverOf(Schema),
    may: mayEdit,
  });
}

type ProductForm = ReturnType<typeof useProductForm>;

/** Saves the form; a fault stands at its field, or above all of them. */
export function useSaving(product: ProductOut | null, { form, edit, put, begin }: ProductForm) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const refresh = useRefresh();
  const send = useSaveProduct(product);
  const [fault, setFault] = useState<string | null>(null);
  const { handleSubmit, setError } = form;
  const save = handleSubmit(async (input) => {
    setFault(null);
    try {
      const done = await send(input, edit.begun.version);
      begin(read(done));
      queries.setQueryData(asking(readProduct, { params: { id: done.id } }).queryKey, done);
      void refresh(editProduct);
      toast(product ? 'Saved' : `${done.name} is a draft`);
      if (!product) void navigate(`/products/${done.id}`, { replace: true });
    } catch (thrown) {
      if (!edit.overtake(thrown, read, input, put)) setFault(placeFaults(thrown, setError, fields));
    }
  });
  return { save, put, fault, clear: () => setFault(null) };
}

/** The code follows the name until somebody types one. @returns to be told that somebody did */
export function useProposedCode(form: ProductForm['form'], typed: boolean) {
  const codeTyped = useRef(typed);
  const name = form.watch('name');
  const { setValue } = form;
  useEffect(() => {
    if (!codeTyped.current) setValue('code', proposeCode(name), { shouldDirty: true });
  }, [name, setValue]);
  return () => {
    codeTyped.current = true;
  };
}
