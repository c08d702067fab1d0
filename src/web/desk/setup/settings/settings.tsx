import { useQuery } from '@tanstack/react-query';
import { useSearchParams } from 'react-router';
import type { ReplyOf } from '../../../../contract/endpoint';
import { readProgramme } from '../../../../contract/setup/settings';
import { asking } from '../../../kit/asking';
import { Failed, Heading, Skeleton } from '../../../kit/place';
import { Audit } from './audit';
import { BuyersForm } from './buyers';
import { ExchangeSection } from './exchange';
import { MoneyForm } from './money';
import { People } from './people';
import { ProgrammeForm } from './programme';
import { RecruitingForm } from './recruiting';
import { TermsForm } from './terms';

const tabs = [
  ['programme', 'Programme'],
  ['buyers', 'Buyers'],
  ['recruiting', 'Recruiting'],
  ['terms', 'Terms'],
  ['money', 'Money'],
  ['people', 'Staff'],
  ['history', 'History'],
] as const;

export default function Settings() {
  const [params, setParams] = useSearchParams();
  const tab = params.get('part') ?? 'programme';
  const settings = useQuery(asking(readProgramme));
  if (settings.isPending) return <Skeleton />;
  if (settings.error) return <Failed fault={settings.error} retry={() => void settings.refetch()} />;
  return (
    <>
      <Heading title="Settings">
        {settings.data.name}, in {settings.data.base}, on the clock of {settings.data.zone}
      </Heading>
      <div role="tablist" aria-label="Parts of the settings" className="flex gap-5 border-b border-rule px-5">
        {tabs.map(([key, name]) => (
          <button
            key={key}
            role="tab"
            type="button"
            aria-selected={tab === key}
            onClick={() => setParams({ part: key })}
            className={`-mb-px border-b-2 py-[6px] ${tab === key ? 'border-copper font-semibold' : 'border-transparent text-ink2 hover:text-ink'}`}
          >
            {name}
          </button>
        ))}
      </div>
      <div
        className="min-h-0 flex-1 overflow-auto bg-sheet px-5 py-5"
        role="tabpanel"
        tabIndex={0}
        aria-label={tabs.find(([k]) => k === tab)?.[1] ?? 'Settings'}
      >
        <Part tab={tab} settings={settings.data} />
      </div>
    </>
  );
}

/** One part of the settings. */
function Part({ tab, settings }: { tab: string; settings: ReplyOf<typeof readProgramme> }) {
  switch (tab) {
    case 'buyers':
      return <BuyersForm settings={settings} />;
    case 'recruiting':
      return <RecruitingForm settings={settings} />;
    case 'terms':
      return <TermsForm settings={settings} />;
    case 'money':
      return (
        <>
          <MoneyForm settings={settings} />
          <ExchangeSection />
        </>
      );
    case 'people':
      return <People />;
    case 'history':
      return <Audit />;
    default:
      return <ProgrammeForm settings={settings} />;
  }
}
