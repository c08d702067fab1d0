import { useState } from 'react';
import { toast } from 'sonner';
import { createOffer, editOffer } from '../../../../contract/recruit/offers';
import type { Id } from '../../../../core/text/id';
import { useAct } from '../../../kit/act';
import { Refused } from '../../../kit/api';
import { shown, useBegun, type Begun } from '../../../kit/begun';
import { Button } from '../../../kit/button';
import { Dialog, DialogFoot } from '../../../kit/dialog';
import { FormFault } from '../../../kit/form';
import { Labelled } from '../../../kit/labelled';
import { SelectField } from '../../../kit/select';
import { Ticks } from '../../../kit/ticks';
import { type Offer } from './offer';

const field = 'mt-1 w-full rounded-sm border border-rule bg-sheet px-2 py-[5px] font-normal text-ink';

interface Typed extends Record<string, unknown> {
  headline: string;
  about: string;
  benefits: string;
  language: string;
  category: string;
  products: Id<'product'>[];
}
const titles: Record<string, string> = {
  headline: 'Headline',
  about: 'Description',
  benefits: 'Benefits',
  language: 'Language',
  category: 'Category',
  products: 'Products',
};
const typedOf = (offer: Offer | null, category: string): Typed =>
  offer
    ? {
        headline: offer.headline,
        about: offer.about,
        benefits: offer.benefits.join('\n'),
        language: offer.language,
        category: offer.category,
        products: offer.products,
      }
    : { headline: '', about: '', benefits: '', language: 'en', category, products: [] };

export function OfferForm({
  offer,
  products,
  categories,
  onClose,
  onSaved,
}: {
  offer: Offer | null;
  products: { id: string; name: string; code: string }[];
  categories: string[];
  onClose: () => void;
  onSaved: (o: Offer) => void;
}) {
  const named = (value: unknown, field: string) =>
    field === 'products'
      ? shown((value as string[]).map((id) => products.find((p) => p.id === id)?.name ?? id))
      : shown(value);
  const base = useBegun<Typed>(
    { values: typedOf(offer, categories[0] ?? ''), version: offer?.version ?? 0 },
    (field) => titles[field] ?? field,
    named,
  );
  const [typed, setTyped] = useState(base.begun.values);
  const put = (field: string, value: unknown) => setTyped((all) => ({ ...all, [field]: value }));
  const [fault, setFault] = useState<string | null>(null);
  const read = (current: unknown): Begun<Typed> => ({
    values: typedOf(current as Offer, ''),
    version: (current as Offer).version,
  });
  const options = {
    done: (o: Offer) => {
      toast(offer ? 'Saved' : 'Made as a draft: look at it, then open it');
      onSaved(o);
    },
    failed: (f: unknown) => {
      if (!base.overtake(f, read, typed, put))
        setFault(
          f instanceof Refused
            ? f.problem.errors
                .map((e) => (e.example ? `${e.detail}, such as “${e.example}”` : e.detail))
                .join('; ') || f.problem.detail
            : 'It was not saved; what you typed is kept.',
        );
    },
  };
  const make = useAct(createOffer, options);
  const edit = useAct(editOffer, options);
  const { headline, about, benefits, language, category, products: chosen } = typed;
  const body = {
    headline,
    about,
    benefits: benefits
      .split('\n')
      .map((b) => b.trim())
      .filter(Boolean),
    language,
    products: chosen,
    category,
  };
  return (
    <Dialog
      open
      onClose={onClose}
      wide
      title={offer ? 'Change the offer page' : 'New offer page'}
      about="One product, or several that are nearly the same. Rates and prices can stand in braces: {rate WHEEL-1}, {price WHEEL-1}."
    >
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          setFault(null);
          if (offer)
            edit.mutate({ params: { id: offer.id }, body: { ...body, version: base.begun.version } });
          else make.mutate({ body });
        }}
      >
        <FormFault>{fault}</FormFault>
        {base.note(put)}
        <OfferFields put={put} categories={categories} products={products} typed={typed} />
        <DialogFoot>
          <Button onClick={onClose}>Leave it</Button>
          <Button type="submit" look="main" busy={make.isPending || edit.isPending}>
            {offer ? 'Save' : 'Make the page'}
          </Button>
        </DialogFoot>
      </form>
    </Dialog>
  );
}

/** What a page says. */
function OfferFields({
  put,
  categories,
  products,
  typed,
}: {
  put: (field: string, value: unknown) => void;
  categories: string[];
  products: { id: string; name: string; code: string }[];
  typed: Typed;
}) {
  const { headline, about, benefits, category, language, products: chosen } = typed;
  return (
    <>
      <Labelled>
        Headline
        <input
          autoFocus
          required
          maxLength={120}
          value={headline}
          onChange={(e) => put('headline', e.target.value)}
          placeholder="A wheel that fits on a kitchen table"
          className={field}
        />
      </Labelled>
      <Labelled>
        Description
        <textarea
          rows={4}
          maxLength={3000}
          value={about}
          onChange={(e) => put('about', e.target.value)}
          placeholder="Everything to throw the first twenty pots, for {price WHEEL-1}."
          className={field}
        />
      </Labelled>
      <Labelled>
        Benefits, one a line
        <textarea
          rows={3}
          value={benefits}
          onChange={(e) => put('benefits', e.target.value)}
          placeholder={'Two years of warranty\nSent within two days'}
          className={field}
        />
      </Labelled>
      <div className="grid grid-cols-[1fr_120px] gap-3">
        <SelectField
          label="Category"
          value={category}
          options={categories.map((c) => [c, c] as const)}
          onPick={(c) => put('category', c)}
        />
        <Labelled>
          Language
          <input
            maxLength={12}
            value={language}
            onChange={(e) => put('language', e.target.value)}
            placeholder="en"
            className={field}
          />
        </Labelled>
      </div>
      <Ticks
        legend="Products"
        options={products.map((p) => [p.id, p.name] as const)}
        ticked={chosen}
        onChange={(ids) => put('products', ids)}
      />
    </>
  );
}
