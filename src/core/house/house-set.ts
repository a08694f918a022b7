import { YarvoError } from '../errors/yarvo-error';
import { crouch, idle, leanAndReach, sitAndStand, travellingJump, turnOnSpot } from './everyday';
import { gaitMotion } from './gait';
import { RUN, WALK, type GaitSettings } from './gait-settings';
import type { HouseMotion } from './house-motion';
import { armRange, fingerRange, legRange, trunkRange } from './ranges';

/** One motion that ships: made when it is asked for. */
export interface HouseEntry {
  readonly id: string;
  readonly label: string;
  /** What it proves. */
  readonly note: string;
  /** Settings it starts from, where it takes any. */
  readonly settings: GaitSettings | null;
  readonly make: (settings: GaitSettings | null) => HouseMotion;
}

const fixed = (id: string, label: string, note: string, make: () => HouseMotion): HouseEntry => ({
  id,
  label,
  note,
  settings: null,
  make,
});
const gait = (id: string, label: string, note: string, settings: GaitSettings): HouseEntry => ({
  id,
  label,
  note,
  settings,
  make: (chosen) => gaitMotion(label, chosen ?? settings),
});

/** The motions that ship, in the order in which a fit is proved: joints first, then the whole body. */
export const HOUSE_SET: readonly HouseEntry[] = [
  fixed('arm-range', 'Arms, full range', 'Shoulder, elbow, forearm and wrist to the ends of their ranges', armRange),
  fixed(
    'leg-range',
    'Legs, full range',
    'Hip, knee and ankle to the ends of their ranges, one leg at a time',
    legRange,
  ),
  fixed('trunk-range', 'Trunk and head, full range', 'Bend, lean and turn of the back and of the neck', trunkRange),
  fixed('finger-range', 'Fingers, full range', 'Every joint of every finger, then the fist', fingerRange),
  fixed('idle', 'Idle', 'Breath and weight, nothing else', idle),
  gait('walk', 'Walk', 'Heel strike, roll, toe-off; all of it can be set', WALK),
  gait('run', 'Run', 'With both feet off the floor', RUN),
  gait('walk-left', 'Walk to the left', 'Side steps that do not cross', {
    ...WALK,
    direction: 'left',
    speed: 0.45,
    stride: 0.36,
    spacing: 0.28,
    hipSway: 0.05,
    armSwing: 0.4,
  }),
  gait('walk-right', 'Walk to the right', 'Side steps that do not cross', {
    ...WALK,
    direction: 'right',
    speed: 0.45,
    stride: 0.36,
    spacing: 0.28,
    hipSway: 0.05,
    armSwing: 0.4,
  }),
  gait('walk-back', 'Walk backwards', 'Toes down first', {
    ...WALK,
    direction: 'back',
    speed: 0.8,
    stride: 0.9,
    lean: 0,
    armSwing: 0.7,
    spacing: 0.12,
  }),
  fixed('turn-left', 'Turn left on the spot', 'Half round in short steps', () => turnOnSpot('left')),
  fixed('turn-right', 'Turn right on the spot', 'Half round in short steps', () => turnOnSpot('right')),
  fixed('crouch', 'Crouch', 'Deep bend of hips, knees and ankles', crouch),
  fixed('jump', 'Jump ahead', 'Travels up and ahead: shows what the root takes over', travellingJump),
  gait('stairs-up', 'Stairs up', 'Steps of 17 cm', {
    ...WALK,
    speed: 0.5,
    stride: 0.58,
    rise: 0.17,
    lean: 6,
    spacing: 0.12,
  }),
  gait('stairs-down', 'Stairs down', 'Steps of 17 cm, toes first', {
    ...WALK,
    speed: 0.5,
    stride: 0.58,
    rise: -0.17,
    lean: 1,
    spacing: 0.12,
  }),
  fixed('sit', 'Sit and stand', 'On a seat of 46 cm', sitAndStand),
  fixed('reach', 'Lean and reach', 'High, low across, and out to both sides', leanAndReach),
];

/** @throws {YarvoError} `no-motion` for an id that the house set does not have. */
export function houseEntry(id: string): HouseEntry {
  const entry = HOUSE_SET.find((each) => each.id === id);
  if (entry) return entry;
  throw new YarvoError({
    code: 'no-motion',
    message: `The house set has no motion "${id}".`,
    place: id,
    remedy: `Give one of ${HOUSE_SET.map((each) => each.id).join(', ')}.`,
  });
}

/** Whether such a motion can be made. @throws {YarvoError} `no-motion`, `bad-setting` */
export function checkHouse({ entry, settings }: { entry: string; settings: GaitSettings | null }): void {
  const { label, settings: own } = houseEntry(entry);
  if ((own === null) === (settings === null)) return;
  if (own === null) throw takesNone(entry);
  throw new YarvoError({
    code: 'bad-setting',
    message: `${label} lacks its settings.`,
    place: entry,
    remedy: 'Give all of them; yarvo motion list --json shows those it starts from.',
  });
}

/** For an entry that has no settings and was given some. */
export function takesNone(entry: string): YarvoError {
  const settable = HOUSE_SET.filter(({ settings }) => settings).map(({ id }) => id);
  return new YarvoError({
    code: 'bad-setting',
    message: `${houseEntry(entry).label} takes no settings.`,
    place: entry,
    remedy: `Leave them out, or take one of ${settable.join(', ')}.`,
  });
}
