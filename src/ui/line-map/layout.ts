import { ARM_PARTS, digitRoles, DIGITS, LEG_PARTS, SIDES, type Definition } from '@/core/definition/definition';

export const MAP_WIDTH = 980;
export const MAP_HEIGHT = 322;

/** One role on the map, in map units. */
export interface Stop {
  readonly role: string;
  readonly x: number;
  readonly y: number;
  readonly isRequired: boolean;
  /** Where the captions stand: above or below the line, or none (digits are captioned by their row). */
  readonly caption: 'above' | 'below' | 'beside' | 'none';
  /** Which way the captions run from the stop, where a line leaves on the other side. */
  readonly align: 'middle' | 'start' | 'end';
}

interface Track {
  readonly side: 'left' | 'right' | 'centre';
  readonly points: readonly (readonly [number, number])[];
  readonly isThin: boolean;
}

export interface MapLayout {
  readonly stops: readonly Stop[];
  readonly tracks: readonly Track[];
  readonly digitLabels: readonly { readonly text: string; readonly x: number; readonly y: number }[];
}

const MIDDLE = 161;
const TRUNK: Readonly<Record<string, number>> = {
  hips: 288,
  spine: 384,
  chest: 456,
  upperChest: 520,
  neck: 596,
  head: 672,
};
const LEG_X: Readonly<Record<string, number>> = { UpperLeg: 219, LowerLeg: 156, Foot: 93, Toes: 30 };
const ARM_X: Readonly<Record<string, number>> = { Shoulder: 584, UpperArm: 658, LowerArm: 738, Hand: 814 };
const LEG_RISE = 78;
const ARM_RISE = 98;
const DIGIT_GAP = 19;
const DIGIT_X = [866, 894, 922];
/** Where the digits part, clear of the hand's captions. */
const FAN_X = ARM_X.Hand + 14;

/**
 * The definition as a diagram of lines, drawn sideways: the trunk runs from hips to head, the character's left limbs lie
 * above it and the right ones below, mirror images of each other.
 */
export function layoutLineMap(definition: Definition): MapLayout {
  const required = new Set(definition.roles.filter((role) => role.required).map((role) => role.id));
  const stops: Stop[] = [];
  const put = (role: string, x: number, y: number, caption: Stop['caption'], align: Stop['align'] = 'middle') =>
    stops.push({ role, x, y, isRequired: required.has(role), caption, align });
  const tracks: Track[] = [
    {
      side: 'centre',
      points: [
        [TRUNK.hips, MIDDLE],
        [752, MIDDLE],
      ],
      isThin: false,
    },
  ];
  const digitLabels: { text: string; x: number; y: number }[] = [];
  for (const [role, x] of Object.entries(TRUNK)) {
    // Limbs leave here: the captions stand on the side where no line runs.
    if (role === 'hips') put(role, x, MIDDLE, 'below', 'start');
    else if (role === 'upperChest') put(role, x, MIDDLE, 'above', 'end');
    else put(role, x, MIDDLE, 'below');
  }
  put('jaw', 718, MIDDLE, 'beside');
  put('leftEye', 748, MIDDLE - 13, 'none');
  put('rightEye', 748, MIDDLE + 13, 'none');
  for (const side of SIDES) {
    const up = side === 'left' ? -1 : 1;
    const caption = side === 'left' ? 'above' : 'below';
    const [legY, armY] = [MIDDLE + up * LEG_RISE, MIDDLE + up * ARM_RISE];
    for (const part of LEG_PARTS) put(side + part, LEG_X[part], legY, caption);
    for (const part of ARM_PARTS) put(side + part, ARM_X[part], armY, caption);
    tracks.push({
      side,
      points: [
        [TRUNK.hips, MIDDLE],
        [252, legY],
        [LEG_X.Toes, legY],
      ],
      isThin: false,
    });
    tracks.push({
      side,
      points: [
        [TRUNK.upperChest, MIDDLE],
        [556, armY],
        [ARM_X.Hand, armY],
      ],
      isThin: false,
    });
    DIGITS.forEach((digit, row) => {
      const y = armY + (row - 2) * DIGIT_GAP;
      tracks.push({
        side,
        points: [
          [ARM_X.Hand, armY],
          [FAN_X, armY],
          [850, y],
          [DIGIT_X[2], y],
        ],
        isThin: true,
      });
      digitRoles(side, digit).forEach((role, at) => put(role, DIGIT_X[at], y, 'none'));
      digitLabels.push({ text: digit, x: 936, y });
    });
  }
  return { stops, tracks, digitLabels };
}

/** Where a stop's captions are anchored. */
export const captionX = ({ x, align }: Stop): number => x + (align === 'start' ? -2 : align === 'end' ? 4 : 0);

/** Letters of a bone's name that fit beside those of its neighbours: legs, hand and lower trunk stand close. */
export const mostLetters = ({ role }: Stop): number => (/Leg|Foot|Toes|Hand|hips|spine/.test(role) ? 8 : 10);

/** Width of one letter of a bone's name at the captions' size. */
const LETTER = 6.9;

/** Where the captions run, from left to right. */
export function captionSpan(stop: Stop): readonly [from: number, to: number] {
  const width = mostLetters(stop) * LETTER;
  const from = captionX(stop) - (stop.align === 'start' ? 0 : stop.align === 'end' ? width : width / 2);
  return [from, from + width];
}

export interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** What of the map belongs to a stop: the bar with room around it, and its captions. Digits keep to their rows. */
export function hitBoxes(stop: Stop): readonly Box[] {
  if (stop.caption === 'none') return [{ x: stop.x - 13, y: stop.y - DIGIT_GAP / 2, width: 26, height: DIGIT_GAP }];
  if (stop.caption === 'beside') return [{ x: stop.x - 13, y: stop.y - 26, width: 26, height: 40 }];
  const [from, to] = captionSpan(stop);
  const bar = { x: stop.x - 16, y: stop.y - 14, width: 32, height: 28 };
  return [bar, { x: from, y: stop.caption === 'above' ? stop.y - 42 : stop.y + 12, width: to - from, height: 30 }];
}

/** Stops nearest in a direction, for moving over the map with the arrow keys. */
export function neighbourStop(stops: readonly Stop[], from: Stop, direction: 'left' | 'right' | 'up' | 'down'): Stop {
  const [dx, dy] = { left: [-1, 0], right: [1, 0], up: [0, -1], down: [0, 1] }[direction];
  let best = from;
  let bestCost = Infinity;
  for (const stop of stops) {
    const [ax, ay] = [stop.x - from.x, stop.y - from.y];
    const along = ax * dx + ay * dy;
    if (along <= 0.5) continue;
    const cost = along + 2.5 * Math.abs(ax * dy - ay * dx);
    if (cost < bestCost) [best, bestCost] = [stop, cost];
  }
  return best;
}
