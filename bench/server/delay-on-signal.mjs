// Loaded into the web server that is measured: on this signal it writes how long its event loop was held up since the last.
import { renameSync, writeFileSync } from 'node:fs';
import { monitorEventLoopDelay } from 'node:perf_hooks';

if (process.env.YARVO_DELAY_FILE && process.argv.some((word) => word.endsWith('web.mjs'))) {
  const histogram = monitorEventLoopDelay({ resolution: 2 });
  histogram.enable();
  process.on('SIGUSR2', () => {
    const text = JSON.stringify({ mostMs: histogram.max / 1e6, usualMs: histogram.percentile(99) / 1e6 });
    histogram.reset();
    writeFileSync(`${process.env.YARVO_DELAY_FILE}.new`, text);
    renameSync(`${process.env.YARVO_DELAY_FILE}.new`, process.env.YARVO_DELAY_FILE);
  });
}
