import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { FormProvider, useForm } from 'react-hook-form';
import { Link, useNavigate, useParams } from 'react-router';
import { toast } from 'sonner';
import {
  checkPages,
  copyProduct,
  createProduct,
  editProduct,
  moveProduct,
  readProduct,
  ProductIn as Schema,
  type ProductOut,
} from '../../../../contract/setup/products';
import { readProgramme } from '../../../../contract/setup/settings';
import { formatMoney } from '../../../../core/money/amount';
import { proposeCode } from '../../../../core/pricing/readiness';
import { useAct } from '../../../kit/act';
import { call } from '../../../kit/api';
import { useBegun, useFollow, type Begun } from '../../../kit/begun';
import { Button } from '../../../kit/button';
import { Copy } from '../../../kit/copy';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { DottedItem } from '../../../kit/dotted';
import { dropDraft, readDraft, useDraft } from '../../../kit/draft';
import { Field, FormFault, placeFaults, resolverOf } from '../../../kit/form';
import { useKeys } from '../../../kit/keys';
import { Note } from '../../../kit/note';
import { Bar, Failed, Heading, Margin, Skeleton } from '../../../kit/place';
import { useProgramme } from '../../../kit/programme';
import { useSend } from '../../../kit/send';
import { State } from '../../../kit/state';
import { Code } from '../../../kit/text';
import { useMay } from '../../roles';
import { JoinAddress } from '../../shared/join-address';
import { Consequences } from './consequences';
import { CoOwners } from './coowners';
import { CommissionPart, kinds, PagesPart, PricePart, type Values } from './fields';
import { PictureOf } from './uploads';

const of = Schema.properties;
const fields = Object.keys(of);
const moves: Record<string, [to: 'live' | 'paused' | 'retired', text: string, about: string][]> = {
  draft: [['live', 'Put live', 'Affiliates who are approved get their links, and the join page shows it.']],
  live: [
    ['paused', 'Pause', 'It leaves the join page; links go on leading buyers to its page.'],
    ['retired', 'Retire', 'No new commissions for visits from now on. Everything earned stays.'],
  ],
  paused: [
    ['live', 'Put live', 'It is on the join page again.'],
    ['retired', 'Retire', 'No new commissions for visits from now on. Everything earned stays.'],
  ],
  retired: [['paused', 'Bring back', 'It comes back paused, so that you can look it over first.']],
};

export default function ProductEditor() {
  const { id = 'new' } = useParams();
  const product = useQuery({
    queryKey: ['product', id],
    queryFn: () => call(readProduct, { params: { id } }),
    enabled: id !== 'new',
  });
  if (id !== 'new' && product.isPending) return <Skeleton />;
  if (product.error) return <Failed fault={product.error} retry={() => void product.refetch()} />;
  // a new version of the record begins the form anew
  return (
    <Editor key={id === 'new' ? 'new' : `${id}-${product.data!.version}`} product={product.data ?? null} />
  );
}

/** What the form holds of a product: everything that can be typed. */
function valuesOf(p: ProductOut): Values {
  return Object.fromEntries(fields.map((f) => [f, p[f as keyof ProductOut]])) as unknown as Values;
}

/** What a merchant pastes into a page of its own. */
const buttonOf = (code: string) =>
  `<script src="${window.location.origin}/button.js" data-product="${code}" async></script>`;

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

function Editor({ product }: { product: ProductOut | null }) {
  const { base } = useProgramme();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const may = useMay();
  const mayEdit = may(product ? editProduct : createProduct);
  const draftName = product?.id ?? 'new-product';
  const saved: Values = product ? valuesOf(product) : blank(base);
  const [restored, setRestored] = useState(() =>
    mayEdit ? readDraft<{ begun: Begun<Values>; typed: Values }>(draftName) : null,
  );
  const now: Begun<Values> = { values: saved, version: product?.version ?? 0 };
  const begun = useBegun<Values>(
    restored?.begun ?? now,
    (field) => of[field as keyof typeof of]?.title ?? field,
  );
  const form = useForm<Values>({
    resolver: resolverOf(Schema),
    defaultValues: begun.begun.values,
    ...(restored ? { values: restored.typed, resetOptions: { keepDefaultValues: true } } : {}),
  });
  const {
    register,
    handleSubmit,
    setError,
    setValue,
    watch,
    reset,
    formState: { errors, isSubmitting, isDirty },
  } = form;
  useDraft(draftName, form, (typed) => ({ begun: begun.begun, typed }));
  const put = (field: string, value: unknown) =>
    setValue(field as keyof Values, value as never, { shouldDirty: true });
  const read = (current: unknown): Begun<Values> => ({
    values: valuesOf(current as ProductOut),
    version: (current as ProductOut).version,
  });
  useFollow(!restored && !isDirty && now.version > begun.begun.version, () => {
    begun.restart(now);
    reset(saved);
  });
  const settings = useQuery({ queryKey: ['settings'], queryFn: () => call(readProgramme) });
  const [fault, setFault] = useState<string | null>(null);
  const [moving, setMoving] = useState<(typeof moves)[string][number] | null>(null);
  const edit = useSend(editProduct);
  const create = useSend(createProduct);
  const codeTyped = useRef(product !== null || Boolean(restored?.typed.code));
  const values = watch();
  // the code follows the name until somebody types one
  useEffect(() => {
    if (!codeTyped.current) setValue('code', proposeCode(values.name), { shouldDirty: true });
  }, [values.name, setValue]);
  const move = useAct(moveProduct, {
    done: (p) => {
      setMoving(null);
      toast(`${p.name} is ${p.state}`);
    },
  });

  const save = handleSubmit(async (input) => {
    setFault(null);
    try {
      const done = product
        ? await edit({ params: { id: product.id }, body: { ...input, version: begun.begun.version } })
        : await create({ body: input });
      begun.restart(read(done));
      setRestored(null);
      reset(valuesOf(done));
      // after it: setting the form anew is a change of it as well
      dropDraft(draftName);
      queries.setQueryData(['product', done.id], done);
      void queries.invalidateQueries();
      toast(product ? 'Saved' : `${done.name} is a draft`);
      if (!product) void navigate(`/products/${done.id}`, { replace: true });
    } catch (thrown) {
      if (!begun.overtake(thrown, read, input, put)) setFault(placeFaults(thrown, setError, fields));
    }
  });
  const discard = () => {
    setRestored(null);
    begun.restart(now);
    reset(saved);
    dropDraft(draftName);
    setFault(null);
  };
  const keys = useKeys([{ key: 'Escape', what: 'back to the list', act: () => void navigate('/products') }]);
  const input = { register, errors, disabled: !mayEdit };
  const look = useAct(checkPages);
  const copy = useAct(copyProduct, {
    done: (p) => {
      toast(`${p.code} is a draft`);
      void navigate(`/products/${p.id}`);
    },
  });
  const next = product ? (moves[product.state] ?? []) : [];

  return (
    <>
      <div className="flex min-h-0 flex-1">
        <form
          id="product"
          noValidate
          className="min-w-0 flex-1 overflow-auto bg-sheet"
          onSubmit={(e) => void save(e)}
          onInput={(e) => {
            if ((e.target as HTMLInputElement).name === 'code') codeTyped.current = true;
          }}
        >
          <Heading
            title={product ? product.name : 'New product'}
            acts={product && <State is={product.state} />}
          >
            {product ? <JoinAddress address={product.joinAddress} /> : 'A draft until you put it live'}
          </Heading>
          <div className="grid max-w-[760px] grid-cols-2 gap-x-5 gap-y-4 px-5">
            <div className="col-span-2 space-y-2">
              <FormFault>{fault}</FormFault>
              {restored && isDirty && (
                <Note as="div" role="status">
                  What you typed last time and did not save is here again.{' '}
                  <button type="button" className="link" onClick={discard}>
                    Discard it
                  </button>
                </Note>
              )}
              {begun.note(put)}
            </div>
            <Field
              name="kind"
              kind="select"
              schema={of.kind}
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
              schema={of.refundDays}
              {...input}
              unit="days"
              hint="Commissions are held until it has passed; 0 = none"
            />
            <Field name="name" schema={of.name} {...input} hint="As buyers and affiliates read it" />
            <Field
              name="code"
              schema={of.code}
              {...input}
              hint="What the shop calls it in its reports; letters, digits, dashes"
            />
            <div className="col-span-2">
              <Field name="description" kind="area" schema={of.description} {...input} rows={3} />
            </div>
          </div>
          <FormProvider {...form}>
            <div className="max-w-[760px] px-5 pb-8">
              <PricePart bound={input} product={product} />
              <CommissionPart bound={input} product={product} />
              <PagesPart bound={input} product={product} />
            </div>
          </FormProvider>
        </form>
        <Margin width="w-[348px]">
          <h2 className="mb-[6px]">One sale</h2>
          <Consequences values={values} product={product} programmeRate={settings.data?.rate ?? ''} />
          {product && (
            <>
              <div className="mt-5 flex items-center gap-3">
                <PictureOf product={product} />
                <div className="text-ink2">
                  {product.presentPrice && (
                    <>
                      Now {formatMoney(product.presentPrice)}
                      {product.left !== null && (
                        <>
                          , {product.left} left{product.step ? ' at this price' : ''}
                        </>
                      )}
                      <br />
                    </>
                  )}
                  {product.sold} sold
                </div>
              </div>
              <h2 className="mt-5 mb-1">Ready to go live</h2>
              <ul>
                {product.readiness.map((r) => (
                  <DottedItem key={r.field} className="flex items-center gap-2">
                    <State is={r.ready ? 'live' : 'waiting'} word={r.label} />
                  </DottedItem>
                ))}
              </ul>
            </>
          )}
          {product && <CoOwners product={product.id} name={product.name} />}
          {product && product.pages.length > 0 && (
            <div className="mt-5">
              <h2>
                Pages{' '}
                {may(checkPages) && (
                  <Button
                    look="bare"
                    className="font-sans text-[13px]"
                    busy={look.isPending}
                    onClick={() => look.mutate({ params: { id: product.id } })}
                  >
                    look now
                  </Button>
                )}
              </h2>
              <ul>
                {product.pages.map((p) => (
                  <DottedItem key={p.role + p.address}>
                    <State
                      is={p.ok === null ? 'waiting' : p.ok ? 'live' : 'refused'}
                      word={`${p.role}: ${p.said}`}
                    />
                    <span className="block truncate text-ink3" title={p.address}>
                      {p.address}
                    </span>
                  </DottedItem>
                ))}
              </ul>
            </div>
          )}
          {product && product.state !== 'draft' && (
            <div className="mt-5">
              <h2>Buy button</h2>
              <p className="mt-1 text-ink2">
                Shows the price of the moment{product.left !== null && ' and how many are left'}, on any page
                of yours.
              </p>
              <p className="mt-1 break-all">
                <Code>{buttonOf(product.code)}</Code> <Copy text={buttonOf(product.code)} />
              </p>
            </div>
          )}
          {product && (
            <p className="mt-5 text-ink3">
              <Link className="link" to="/products">
                All products
              </Link>
            </p>
          )}
        </Margin>
      </div>
      <Bar tone={isDirty ? 'draft' : 'plain'}>
        {mayEdit && (
          <Button
            type="submit"
            form="product"
            look="main"
            busy={isSubmitting}
            disabled={!isDirty && product !== null}
          >
            {product ? 'Save' : 'Create the draft'}
          </Button>
        )}
        {isDirty && (
          <>
            <Button onClick={discard}>Discard</Button>
            <span className="text-ink2">Unsaved changes, kept in this browser</span>
          </>
        )}
        {may(moveProduct) &&
          !isDirty &&
          next.map((m) => (
            <Button key={m[0]} look={m[0] === 'live' ? 'main' : 'quiet'} onClick={() => setMoving(m)}>
              {m[1]}
            </Button>
          ))}
        {product && may(copyProduct) && !isDirty && (
          <Button busy={copy.isPending} onClick={() => copy.mutate({ params: { id: product.id } })}>
            Copy
          </Button>
        )}
      </Bar>
      <Dialog
        open={moving !== null}
        onClose={() => setMoving(null)}
        title={`${moving?.[1] ?? ''}: ${product?.name ?? ''}`}
        about={moving?.[2]}
      >
        <DialogFoot>
          <Button onClick={() => setMoving(null)}>Leave it</Button>
          <Button
            look="main"
            busy={move.isPending}
            onClick={() =>
              product &&
              moving &&
              move.mutate({
                params: { id: product.id },
                body: { state: moving[0], version: product.version },
              })
            }
          >
            {moving?.[1]}
          </Button>
        </DialogFoot>
      </Dialog>
      {keys}
    </>
  );
}
