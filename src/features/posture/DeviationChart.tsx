'use client';

import { BarController, BarElement, CategoryScale, Chart, Legend, LinearScale, Tooltip } from 'chart.js';
import { useEffect, useState } from 'react';
import { Bar } from 'react-chartjs-2';

Chart.register(BarController, BarElement, CategoryScale, LinearScale, Legend, Tooltip);

interface DeviationBar {
  readonly label: string;
  /** Degrees. */
  readonly before: number;
  readonly now: number;
}

// The package draws with a font of its own where it is not told another.
Chart.defaults.font = { ...Chart.defaults.font, family: 'Source Sans 3 Variable', size: 13 };

/** Room of one role, pixels. */
const ROW = 24;

/** Two bars for each role: as the file stands, and as it stands now. */
export default function DeviationChart({ bars }: { bars: readonly DeviationBar[] }) {
  const colours = useThemeColours();
  return (
    <div style={{ height: bars.length * ROW + 70 }}>
      <Bar
        aria-label={`Degrees off the reference before and now, ${bars.length} roles`}
        data={{
          labels: bars.map(({ label }) => label),
          datasets: [
            { label: 'in the file', data: bars.map(({ before }) => before), backgroundColor: colours.quiet },
            { label: 'now', data: bars.map(({ now }) => now), backgroundColor: colours.primary },
          ],
        }}
        options={{
          indexAxis: 'y',
          maintainAspectRatio: false,
          animation: false,
          color: colours.ink,
          scales: {
            x: {
              position: 'top',
              beginAtZero: true,
              grid: { color: colours.line },
              ticks: { color: colours.ink, callback: (value) => `${value}°` },
            },
            y: { grid: { display: false }, ticks: { color: colours.ink, autoSkip: false } },
          },
          plugins: {
            legend: { align: 'start', labels: { boxWidth: 12, color: colours.ink } },
            tooltip: { callbacks: { label: ({ dataset, parsed }) => `${dataset.label}: ${parsed.x?.toFixed(1)}°` } },
          },
        }}
      />
    </div>
  );
}

const readColours = () => {
  const style = getComputedStyle(document.documentElement);
  const read = (name: string) => style.getPropertyValue(name).trim();
  return {
    ink: read('--color-base-content'),
    quiet: read('--tint-right'),
    primary: read('--color-primary'),
    line: read('--color-base-300'),
  };
};

function useThemeColours() {
  const [colours, setColours] = useState(readColours);
  useEffect(() => {
    const onTheme = () => setColours(readColours());
    window.addEventListener('yarvo-theme', onTheme);
    return () => window.removeEventListener('yarvo-theme', onTheme);
  }, []);
  return colours;
}
