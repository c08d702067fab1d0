import type { ComponentType, ReactNode } from 'react';
import { useParams } from 'react-router';
import { isId, type Id, type IdKind } from '../../core/text/id';
import { Empty } from './place';

/** The page of a record whose id stands in the address; what is no id of its kind has none. */
export function ById<K extends IdKind>({
  kind,
  page: Page,
  otherwise = <NoSuchPage />,
}: {
  kind: K;
  page: ComponentType<{ id: Id<K> }>;
  /** what stands where there is none */
  otherwise?: ReactNode;
}) {
  const { id = '' } = useParams();
  return isId(id, kind) ? <Page id={id} /> : otherwise;
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
