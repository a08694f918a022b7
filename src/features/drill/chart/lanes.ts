import type { DrillFlag } from '@/core/drill/judge/judge-motion';
import type { Measure } from '@/core/drill/judge/measure';
import { rangeOf } from '@/core/drill/judge/measure';
import { SIDES, type Side } from '@/core/definition/definition';

type ShownMeasure = Omit<Measure, 'isExcused'>;

interface Curve {
  readonly side: Side | null;
  readonly values: Float64Array;
}

/** A row of the strip chart: what belongs together, left and right in one. */
export interface Lane {
  readonly id: string;
  readonly label: string;
  readonly unit: Measure['unit'];
  readonly curves: readonly Curve[];
  readonly band: readonly [number, number] | null;
  /** Lowest and highest value that is drawn. */
  readonly range: readonly [number, number];
  readonly flags: readonly DrillFlag[];
  readonly isMain: boolean;
}

interface LaneKind {
  readonly id: string;
  readonly label: string;
  /** Measures that are drawn, and those whose flags alone stand here. */
  readonly drawn: RegExp;
  readonly flagged?: RegExp;
  /** Whether all of a side are drawn as one curve, the greatest of them. */
  readonly isGreatest?: boolean;
  readonly isMain: boolean;
}

const KINDS: readonly LaneKind[] = [
  { id: 'soles', label: 'Sole height', drawn: /^sink\./, flagged: /^(sole|sink)\./, isMain: true },
  { id: 'slide', label: 'Slide in a contact', drawn: /^slide\./, isMain: true },
  { id: 'knees', label: 'Knee fold', drawn: /^knee\./, isMain: true },
  { id: 'elbows', label: 'Elbow fold', drawn: /^elbow\./, isMain: true },
  { id: 'forearms', label: 'Forearm twist', drawn: /^twist\..*Forearm$/, isMain: true },
  { id: 'hand-thigh', label: 'Hand to thigh', drawn: /^handThigh\./, isMain: true },
  { id: 'hand-trunk', label: 'Hand to trunk', drawn: /^handTrunk\./, isMain: true },
  { id: 'arm-trunk', label: 'Forearm to trunk', drawn: /^armTrunk\./, isMain: true },
  { id: 'jumps', label: 'Jumps', drawn: /^jump\./, isGreatest: true, isMain: true },
  { id: 'pitch', label: 'Sole pitch', drawn: /^pitch\./, isMain: false },
  { id: 'knee-room', label: 'Knee to knee', drawn: /^knees$/, isMain: false },
  { id: 'arms', label: 'Upper arm twist', drawn: /^twist\..*UpperArm$/, isMain: false },
  { id: 'thighs', label: 'Thigh twist', drawn: /^twist\..*Thigh$/, isMain: false },
  { id: 'shins', label: 'Shin twist', drawn: /^twist\..*Shin$/, isMain: false },
  { id: 'speeds', label: 'Joint speed', drawn: /^speed\./, isGreatest: true, isMain: false },
  { id: 'path', label: 'Hips off their way', drawn: /^path$/, isMain: false },
  { id: 'balance', label: 'Out of balance', drawn: /^balance$/, isMain: false },
  { id: 'lines', label: 'Limbs off their way', drawn: /^line\./, isGreatest: true, isMain: false },
  { id: 'sides', label: 'Left from right', drawn: /^sides$/, isMain: false },
];

const sideOf = (name: string): Side | null => SIDES.find((side) => new RegExp(`\\.${side}`).test(name)) ?? null;

/** Rows of what was measured; those without a value are left out. */
export function lanesOf(measures: readonly ShownMeasure[], flags: readonly DrillFlag[]): Lane[] {
  return KINDS.flatMap(({ id, label, drawn, flagged, isGreatest, isMain }): Lane[] => {
    const own = measures.filter(({ name, values }) => drawn.test(name) && rangeOf(values) !== null);
    if (own.length === 0) return [];
    const bySide = (side: Side | null): Curve[] => {
      const list = own.filter(({ name }) => sideOf(name) === side).map(({ values }) => values);
      if (list.length === 0) return [];
      return isGreatest ? [{ side, values: greatest(list) }] : list.map((values) => ({ side, values }));
    };
    const curves = [...bySide(null), ...SIDES.flatMap(bySide)];
    const { band, unit } = own[0];
    const matcher = flagged ?? drawn;
    return [
      {
        id,
        label,
        unit,
        curves,
        band,
        range: shownRange(curves, band),
        flags: flags.filter(({ measure }) => matcher.test(measure)),
        isMain,
      },
    ];
  });
}

function greatest(list: readonly Float64Array[]): Float64Array {
  return list[0].map((_, frame) =>
    list.reduce((most, values) => (Number.isNaN(values[frame]) ? most : Math.max(most, values[frame])), 0),
  );
}

/** Limits as small as this are always shown: against them a curve is read. % of the leg, or degrees. */
const CLOSE_LIMIT = 30;

/** What the curves take up, with room for the ends of the band that they come near to. */
function shownRange(curves: readonly Curve[], band: Lane['band']): readonly [number, number] {
  let [low, high] = [Infinity, -Infinity];
  for (const { values } of curves) {
    const range = rangeOf(values);
    if (range) [low, high] = [Math.min(low, range.min), Math.max(high, range.max)];
  }
  for (const end of band ?? [])
    if (Number.isFinite(end)) {
      const span = Math.max(high - low, 1e-6);
      const isNear = end > low - span && end < high + span;
      if (isNear || Math.abs(end) <= CLOSE_LIMIT) [low, high] = [Math.min(low, end), Math.max(high, end)];
    }
  const span = Math.max(high - low, 1e-3);
  return [low - span * 0.08, high + span * 0.08];
}

/**
 * A curve as an SVG path in a box of `width` x `height`: of every column the least and the greatest value, so that a spike
 * of one frame is seen in a long motion.
 */
export function curvePath(
  values: Float64Array,
  [low, high]: Lane['range'],
  { width, height }: { readonly width: number; readonly height: number },
): string {
  const last = Math.max(1, values.length - 1);
  const y = (value: number): string => (height - ((value - low) / (high - low)) * height).toFixed(1);
  const columns = Math.min(values.length, Math.round(width));
  const parts: string[] = [];
  let isDown = false;
  for (let column = 0; column < columns; column++) {
    const from = Math.floor((column * values.length) / columns);
    const to = Math.max(from + 1, Math.floor(((column + 1) * values.length) / columns));
    let [least, most, leastAt, mostAt] = [Infinity, -Infinity, from, from];
    for (let frame = from; frame < to; frame++) {
      const value = values[frame];
      if (Number.isNaN(value)) continue;
      if (value < least) [least, leastAt] = [value, frame];
      if (value > most) [most, mostAt] = [value, frame];
    }
    if (most === -Infinity) {
      isDown = false;
      continue;
    }
    const points = leastAt <= mostAt ? [least, most] : [most, least];
    const x = ((from / last) * width).toFixed(1);
    for (const value of least === most ? [least] : points) {
      parts.push(`${isDown ? 'L' : 'M'}${x} ${y(value)}`);
      isDown = true;
    }
  }
  return parts.join('');
}

/** A value as it is read: lengths in cm, with the share of the leg where there is room. @param leg metres. */
export function valueText(value: number, unit: Measure['unit'], leg: number): string {
  if (Number.isNaN(value)) return '–';
  const text = (number: number, digits: number): string => number.toFixed(digits).replace(/^-(0(\.0*)?)$/, '$1');
  if (unit === '%') return `${text(value * leg, 1)} cm`;
  return `${text(value, unit === '°/s' ? 0 : 1)}${unit}`;
}

export function bandText(band: Lane['band'], unit: Measure['unit'], leg: number): string {
  if (!band) return '';
  const [low, high] = band;
  if (Number.isFinite(low) && Number.isFinite(high))
    return low === -high
      ? `±${valueText(high, unit, leg)}`
      : low === 0
        ? `≤ ${valueText(high, unit, leg)}`
        : `${valueText(low, unit, leg)} to ${valueText(high, unit, leg)}`;
  return Number.isFinite(low) ? `≥ ${valueText(low, unit, leg)}` : `≤ ${valueText(high, unit, leg)}`;
}

/** The flag that comes after a frame in time, or before it; round the end to the first. Null where there is none. */
export function nextFlag(flags: readonly DrillFlag[], frame: number, step: 1 | -1): DrillFlag | null {
  const sorted = [...flags].sort((a, b) => a.worstFrame - b.worstFrame);
  if (step > 0) return sorted.find(({ worstFrame }) => worstFrame > frame) ?? sorted[0] ?? null;
  return sorted.findLast(({ worstFrame }) => worstFrame < frame) ?? sorted.at(-1) ?? null;
}
