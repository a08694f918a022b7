'use client';

import { BarController, BarElement, CategoryScale, Chart, LinearScale, Tooltip } from 'chart.js';
import { Bar } from 'react-chartjs-2';
import type { CheckColumn } from './check-grid';

Chart.register(BarController, BarElement, CategoryScale, LinearScale, Tooltip);

/** Reads a colour of the theme, as the canvas takes it. */
const colourOf = (name: string): string =>
  typeof window === 'undefined' ? '#888' : getComputedStyle(document.documentElement).getPropertyValue(name).trim();

const fontOf = (): string =>
  typeof window === 'undefined' ? 'sans-serif' : getComputedStyle(document.body).fontFamily;

/** The commonest findings as bars: on how many characters, by severity. */
export function CommonBars({ columns }: { readonly columns: readonly CheckColumn[] }) {
  const shown = columns.slice(0, 8);
  const bar = (severity: 'blocker' | 'caution' | 'note', label: string, colour: string) => ({
    label,
    data: shown.map(({ found }) => found[severity]),
    backgroundColor: colour,
    stack: 'all',
    barThickness: 12,
  });
  const font = { family: fontOf(), size: 12 };
  const ink = colourOf('--color-base-content');
  const said = shown.map(({ check, found }) => `${check} ${found.blocker + found.caution + found.note}`).join(', ');
  return (
    <div className="h-52 shrink-0">
      <Bar
        aria-label={`Commonest findings: ${said}`}
        role="img"
        data={{
          labels: shown.map(({ check }) => check),
          datasets: [
            bar('blocker', 'Blockers', colourOf('--color-error')),
            bar('caution', 'Cautions', colourOf('--color-warning')),
            bar('note', 'Notes', colourOf('--color-base-300')),
          ],
        }}
        options={{
          indexAxis: 'y',
          animation: false,
          maintainAspectRatio: false,
          plugins: { legend: { display: false } },
          scales: {
            x: { stacked: true, ticks: { precision: 0, color: ink, font }, grid: { display: false } },
            y: { stacked: true, ticks: { color: ink, autoSkip: false, font }, grid: { display: false } },
          },
        }}
      />
    </div>
  );
}
