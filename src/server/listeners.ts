import type { App } from './ground/context';
import { approvalChanged } from './settle/runs/runs';
import { approvalSumChanged } from './setup/settings/settings';

/** Who listens to whom: what happens on a lower floor and is answered on a higher one. */
export function registerListeners(app: App): void {
  approvalSumChanged.listen(app, approvalChanged);
}
