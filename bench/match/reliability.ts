import { chromium } from '@playwright/test';
import path from 'node:path';
import config from '../../playwright.config';
import { QUAY } from '@/core/definition/quay';
import { matchBones } from '@/core/match/match-bones';
import { acceptedBones, readRecords, rigOf, withoutWords } from './records';
import { emptyTally, type Tally } from './tally';

/** A curve: how often answers of each confidence are right. */
export interface Curve {
  readonly label: string;
  readonly points: readonly { readonly confidence: number; readonly right: number; readonly share: number }[];
}

/** Bins with less than this share of all answers say nothing. */
const LEAST_SHARE = 0.002;

/** Mean confidence and share of right answers per bin of ten. */
export function curveOf(label: string, { bins }: Tally): Curve {
  const total = bins.reduce((sum, { weight }) => sum + weight, 0) || 1;
  const points = bins
    .filter(({ weight }) => weight / total >= LEAST_SHARE)
    .map(({ weight, confidence, right }) => ({
      confidence: confidence / weight,
      right: right / weight,
      share: weight / total,
    }));
  return { label, points };
}

/** Answers on the records of the training part, with their names and with names that say nothing. */
export function recordTallies(): { named: Tally; erased: Tally } {
  const [named, erased] = [emptyTally(), emptyTally()];
  for (const record of readRecords().filter(({ kind }) => kind === 'humanoid')) {
    const { rig, origin } = rigOf(record);
    const accepted = acceptedBones(record, origin);
    for (const [tally, subject] of [
      [named, rig],
      [erased, withoutWords(rig)],
    ] as const) {
      tally.rigs++;
      for (const { role, boneIndex, confidence } of Object.values(matchBones(subject, QUAY).assignments)) {
        const right = accepted.get(role);
        if (!right) continue;
        const bin = tally.bins[Math.min(9, Math.floor(confidence * 10))];
        bin.weight++;
        bin.confidence += confidence;
        bin.right += right.includes(boneIndex) ? 1 : 0;
      }
    }
  }
  return { named, erased };
}

const COLOURS = ['#0f6f78', '#b4552d', '#6a5a9a', '#4c7a34', '#8a6a12', '#3c4a5c'];

/** Draws curves into a PNG file, 900 by 560. */
export async function drawReliability(curves: readonly Curve[], file: string): Promise<void> {
  const browser = await chromium.launch(config.use?.launchOptions);
  try {
    const page = await browser.newPage({ viewport: { width: 900, height: 560 } });
    await page.setContent(
      '<body style="margin:16px;background:#fff"><canvas width="868" height="528"></canvas></body>',
    );
    await page.addScriptTag({ path: path.resolve('node_modules/chart.js/dist/chart.umd.min.js') });
    await page.evaluate(
      ({ data, colours }) => {
        const dash = data.map((_, at) => (at % 2 === 0 ? [] : [6, 4]));
        const { Chart } = window as unknown as { Chart: new (canvas: Element | null, options: object) => unknown };
        new Chart(document.querySelector('canvas'), {
          type: 'scatter',
          data: {
            datasets: [
              {
                label: 'as sure as right',
                data: [0, 1].map((value) => ({ x: value, y: value })),
                showLine: true,
                borderColor: '#b8bec4',
                borderWidth: 1,
                pointRadius: 0,
              },
              ...data.map(({ label, points }, at) => ({
                label,
                data: points.map(({ confidence, right }) => ({ x: confidence, y: right })),
                showLine: true,
                borderColor: colours[at % colours.length],
                backgroundColor: colours[at % colours.length],
                borderDash: dash[at],
                borderWidth: 2,
                pointRadius: points.map(({ share }) => 3 + 9 * Math.sqrt(share)),
              })),
            ],
          },
          options: {
            animation: false,
            responsive: false,
            scales: {
              x: { min: 0, max: 1, title: { display: true, text: 'confidence of the answers (mean of each tenth)' } },
              y: { min: 0, max: 1, title: { display: true, text: 'share of them that is right' } },
            },
            plugins: { legend: { position: 'bottom' } },
          },
        });
      },
      { data: curves, colours: COLOURS },
    );
    await page.screenshot({ path: file });
  } finally {
    await browser.close();
  }
}
