import type { ComponentType } from 'react';
import { useParams } from 'react-router';
import { isId, type Id, type IdKind } from '../../core/text/id';
import { Empty } from './place';

/** The page of a record whose id stands in the address; what is no id of its kind has none. */
export function ById<K extends IdKind>({
  kind,
  page: Page,
}: {
  kind: K;
  page: ComponentType<{ id: Id<K> }>;
}) {
  const { id = '' } = useParams();
  return isId(id, kind) ? <Page id={id} /> : <NoSuchPage />;
}

export function NoSuchPage() {
  return (
    <div className="p-6">
      <Empty title="There is no such page">
        The address may be old. Choose a place on the left, or press Ctrl K.
      </Empty>
    </div>
  );
}
