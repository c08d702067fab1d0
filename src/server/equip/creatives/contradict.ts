import { formatMoment } from '../../../core/calendar/format';
import { fieldWords, type CreativeField } from '../../../core/material/creative';
import type { Contradiction, Planned } from '../../../core/material/planned';
import type { App } from '../../ground/context';
import { refuse, type Problem } from '../../ground/http/problem';
import { theProgramme } from '../../registers/programme/record';
import { valueReader } from './view';

/** The refusal of planned changes that contradict each other: both are named. */
export function contradictionFault(app: App, found: Contradiction<Planned>): Problem {
  const { zone } = theProgramme(app);
  const read = valueReader(app);
  const said = ({ at, field, value }: Planned) =>
    `${fieldWords[field as CreativeField]} → ${read(field, value)} on ${formatMoment(at, zone)}`;
  switch (found.code) {
    case 'same-moment':
      return refuse(
        'at',
        `Two changes of the same field at the same moment: ${said(found.first)}, and ${said(found.second)}`,
      );
    case 'after-end':
      return refuse(
        'at',
        `${said(found.second)} would come after the end on ${formatMoment(found.end, zone)}${found.first ? `, which is planned: ${said(found.first)}` : ''}`,
      );
    case 'end-before-start':
      return refuse(
        found.second.field === 'until' ? 'until' : 'from',
        `${said(found.second)} would put the end before the start${found.first ? `, which is planned: ${said(found.first)}` : ''}`,
      );
  }
}
