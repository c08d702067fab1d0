import type { PortalHome } from '../../../contract/portal/home';
import { DottedItem } from '../../kit/dotted';
import { Said } from '../../kit/note';
import { Moment } from '../../kit/text';

/** The last visits by them. */
export function Visits({ visits }: { visits: PortalHome['visits'] }) {
  return (
    <>
      <h2 className="mt-6">Last visits</h2>
      {visits.length === 0 ? (
        <Said>None yet. A visit appears here as soon as somebody follows a link.</Said>
      ) : (
        <ul>
          {visits.map((v, i) => (
            <DottedItem key={i} className="flex justify-between gap-4">
              <span>
                <Moment at={v.at} />
              </span>
              <span>{v.product}</span>
              <span className="text-ink3">{v.counted ?? 'counted'}</span>
            </DottedItem>
          ))}
        </ul>
      )}
    </>
  );
}
