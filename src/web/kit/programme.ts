import { createContext, useContext } from 'react';
import { formatDay, formatEnd, formatMoment } from '../../core/calendar/format';

export interface ProgrammeView {
  name: string;
  base: string;
  zone: string;
  demo: boolean;
  /** the programme's moment when it was read */
  now: number;
}

export const ProgrammeContext = createContext<ProgrammeView>({
  name: '',
  base: 'EUR',
  zone: 'UTC',
  demo: false,
  now: 0,
});

/** Name, currency, zone and date of the programme, with dates formatted in its zone. */
export function useProgramme() {
  const programme = useContext(ProgrammeContext);
  return {
    ...programme,
    day: (moment: number) => formatDay(moment, programme.zone),
    moment: (moment: number) => formatMoment(moment, programme.zone),
    end: (until: number) => formatEnd(until, programme.zone),
  };
}
