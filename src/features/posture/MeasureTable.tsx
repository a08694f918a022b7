import type { PostureSheet } from '@/core/posture/posture-sheet';

type SideKey = keyof PostureSheet['sides']['left'];
const ROWS: readonly { readonly key: SideKey; readonly label: string; readonly unit: string }[] = [
  { key: 'armDownDeg', label: 'Arm below the horizontal', unit: '°' },
  { key: 'legOutDeg', label: 'Leg out to the side', unit: '°' },
  { key: 'footOutDeg', label: 'Foot turned out', unit: '°' },
  { key: 'solePitchDeg', label: 'Sole, heel to toe', unit: '°' },
  { key: 'soleRollDeg', label: 'Sole, inner to outer edge', unit: '°' },
  { key: 'soleCm', label: 'Sole above the floor', unit: ' cm' },
  { key: 'armCm', label: 'Arm, shoulder to wrist', unit: ' cm' },
  { key: 'legCm', label: 'Leg, hip to ankle', unit: ' cm' },
];

/** Measures of both sides beside each other, and of the whole. */
export function MeasureTable({ sheet }: { sheet: PostureSheet }) {
  return (
    <table className="w-full" aria-label="Whole-body measures">
      <thead>
        <tr className="quiet text-right">
          <th className="text-left font-normal" />
          <th className="font-normal">left</th>
          <th className="font-normal">right</th>
        </tr>
      </thead>
      <tbody className="tabular-nums">
        {ROWS.map(({ key, label, unit }) => (
          <tr key={key}>
            <td>{label}</td>
            <td className="text-right">{text(sheet.sides.left[key], unit)}</td>
            <td className="text-right">{text(sheet.sides.right[key], unit)}</td>
          </tr>
        ))}
        <tr>
          <td>Hips above the floor</td>
          <td className="text-right" colSpan={2}>
            {text(sheet.hipsCm, ' cm')}
          </td>
        </tr>
        <tr>
          <td>Height, sole to crown</td>
          <td className="text-right" colSpan={2}>
            {text(sheet.heightM * 100, ' cm')}
          </td>
        </tr>
      </tbody>
    </table>
  );
}

/** What rounds to nothing has no sign. */
const text = (value: number | null, unit: string): string =>
  value === null ? '–' : `${(Math.round(value * 10) / 10 + 0).toFixed(1)}${unit}`;
