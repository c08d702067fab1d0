// Loaded into the server that is measured: says how long its thread was held since it was asked last. Plain Node, so that the bundle stays what it is.
import { monitorEventLoopDelay } from 'node:perf_hooks';

const delay = monitorEventLoopDelay({ resolution: 1 });
delay.enable();
process.on('message', (said) => {
  if (said !== 'held') return;
  process.send({ held: delay.max / 1e6 });
  delay.reset();
});
