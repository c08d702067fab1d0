import { useQuery } from '@tanstack/react-query';
import { readPublicPolicy } from '../../contract/setup/policy';
import { asking } from '../kit/asking';
import { Page, Reading } from '../kit/layout';
import { Said } from '../kit/note';
import { Failed, Skeleton } from '../kit/place';
import { PolicySections } from '../kit/policy';

/** The policy as everybody reads it. */
export default function TermsPage() {
  const page = useQuery(asking(readPublicPolicy));
  if (page.isPending) return <Skeleton />;
  if (page.error) return <Failed fault={page.error} retry={() => void page.refetch()} />;
  return (
    <Page tabIndex={0}>
      <Reading>
        {page.data ? (
          <>
            <p className="text-ink2">{page.data.programme}</p>
            <h1>Terms for affiliates, version {page.data.number}</h1>
            <Said>
              {page.data.inForce ? 'In effect since' : 'Takes effect on'} {page.data.takesEffect}
            </Said>
            <PolicySections sections={page.data.sections} />
          </>
        ) : (
          <h1>No terms are published yet</h1>
        )}
        <p className="mt-8">
          <a className="link-lined" href="/join">
            Apply
          </a>
        </p>
      </Reading>
    </Page>
  );
}
