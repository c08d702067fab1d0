import { useFormContext } from 'react-hook-form';
import { Link } from 'react-router';
import { type ProductOut } from '../../../../../contract/setup/products';
import { sampleHanded } from '../../../../../core/material/handed';
import { Field } from '../../../../kit/form';
import { Wrong } from '../../../../kit/note';
import { SelectOf } from '../../../../kit/picked-fields';
import { Moment } from '../../../../kit/text';
import { WallField } from '../../../../kit/wall-field';
import { AfterTheSale } from './delivery';
import { Check, Part, properties, type Bound, type Values } from './part';

/** Pages, launch, delivery, and how it stands before affiliates. */
export function PagesPart({ bound, product }: { bound: Bound; product: ProductOut | null }) {
  const { watch } = useFormContext<Values>();
  const [delivery, launchAt, recruiting] = watch(['delivery', 'launchAt', 'recruiting']);
  const launch = (bound.errors.launchAt as { message?: string } | undefined)?.message;
  return (
    <>
      <Part title="Pages">
        <div className="col-span-2">
          <Field
            name="salesPage"
            schema={properties.salesPage}
            {...bound}
            hint="Where tracking links lead. Its host joins the hosts that links may lead to."
          />
        </div>
      </Part>
      <MorePages product={product} bound={bound} launchAt={launchAt} launch={launch} />
      <AfterTheSale product={product} bound={bound} delivery={delivery} />
      <BeforeAffiliates product={product} bound={bound} recruiting={recruiting} />
    </>
  );
}

/** Who may promote it, and how it is found. */
function BeforeAffiliates({
  product,
  bound,
  recruiting,
}: {
  product: ProductOut | null;
  bound: Bound;
  recruiting: Values['recruiting'];
}) {
  return (
    <Part
      title="Before affiliates"
      open={Boolean(
        product &&
        (product.categories ||
          product.keywords ||
          product.contentKind ||
          product.recruiting !== 'reviewed' ||
          !product.listed),
      )}
      about="who may promote it, how it is found"
    >
      <SelectOf
        name="recruiting"
        schema={properties.recruiting}
        label="Who may promote it"
        options={[
          ['reviewed', 'Reviewed: a person decides'],
          ['screened', 'Screened: rules decide the clear cases'],
          ['open', 'Open to all: nobody decides'],
          ['none', 'Nobody: without affiliates'],
        ]}
        {...bound}
        hint={
          recruiting === 'screened' ? (
            <>
              By the{' '}
              <Link className="link" to="/applications/rules">
                screening rules
              </Link>
              ; what none of them decides waits for a person
            </>
          ) : recruiting === 'none' ? (
            product?.closedFrom ? (
              <>
                Links to it earn until <Moment at={product.closedFrom} />, then nothing
              </>
            ) : (
              'No link to it earns. While it is on sale, this takes effect when the promised notice has ended'
            )
          ) : recruiting === 'open' ? (
            'Whoever applies for it is let in at once, always paid after hold; also those whose refunds and tricks you would have seen. Only who is blocked or gone waits for you'
          ) : undefined
        }
      />
      <Check
        name="listed"
        bound={bound}
        label="Listed on the join page"
        hint="Switched off, it is on sale and affiliates of it go on, but newcomers do not see it"
      />
      <Field name="contentKind" schema={properties.contentKind} {...bound} />
      <Field name="language" schema={properties.language} {...bound} />
      <Field
        name="categories"
        schema={properties.categories}
        {...bound}
        hint="At most three, parted by commas"
      />
      <Field name="keywords" schema={properties.keywords} {...bound} hint="At most three, parted by commas" />
    </Part>
  );
}

/** Whether the page is told who has led a buyer there, and how. */
function HandedOver({ bound }: { bound: Bound }) {
  const { watch } = useFormContext<Values>();
  const [page, parameter, as] = watch(['salesPage', 'handParameter', 'handAs']);
  return (
    <>
      <Field
        name="handParameter"
        schema={properties.handParameter}
        {...bound}
        hint={
          parameter
            ? `A sample: ${sampleHanded(page, { parameter, as: as ?? 'handle' })}`
            : 'Empty: the page is not told who has led a buyer there'
        }
      />
      <SelectOf
        name="handAs"
        schema={properties.handAs}
        options={[
          ['handle', 'Its handle, as loam-letters'],
          ['number', 'Its number with us'],
        ]}
        {...bound}
      />
    </>
  );
}

/** Pages for phones, for while it is not on sale, and before a launch. */
function MorePages({
  product,
  bound,
  launchAt,
  launch,
}: {
  product: ProductOut | null;
  bound: Bound;
  launchAt: string | undefined;
  launch: string | undefined;
}) {
  const { setValue } = useFormContext<Values>();
  return (
    <Part
      title="More pages and a launch"
      open={Boolean(
        product &&
        (product.mobilePage ||
          product.fallbackPage ||
          product.furtherPages ||
          product.prelaunchPage ||
          product.handParameter),
      )}
      about="phones, while it is not on sale, before the launch, who led a buyer there"
    >
      <Field name="mobilePage" schema={properties.mobilePage} {...bound} hint="Phones are led here instead" />
      <Field
        name="fallbackPage"
        schema={properties.fallbackPage}
        {...bound}
        hint="Links lead here while the product is paused or retired"
      />
      <div className="col-span-2">
        <Field
          name="furtherPages"
          kind="area"
          rows={2}
          schema={properties.furtherPages}
          {...bound}
          hint="One a line; affiliates can link to these as well"
        />
      </div>
      <Field
        name="prelaunchPage"
        schema={properties.prelaunchPage}
        {...bound}
        hint="Links lead here until the launch, and the visit is remembered"
      />
      <div>
        <WallField
          label="Launch"
          value={launchAt ?? ''}
          onChange={(v) => setValue('launchAt', v, { shouldDirty: true })}
          empty="on sale as soon as it is live"
        />
        {launch && <Wrong role="alert">{launch}</Wrong>}
      </div>
      <HandedOver bound={bound} />
    </Part>
  );
}
