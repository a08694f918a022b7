import { z } from 'zod';
import { YarvoError } from '../errors/yarvo-error';

/** A setting with its slider. */
export interface GaitSlider {
  readonly id: GaitNumber;
  readonly label: string;
  readonly unit: string;
  readonly min: number;
  readonly max: number;
  readonly step: number;
}

const LIMITS = {
  speed: { label: 'Speed', unit: 'm/s', min: 0.2, max: 7, step: 0.05 },
  stride: { label: 'Stride, two steps', unit: 'm', min: 0.1, max: 5, step: 0.02 },
  bounce: { label: 'Bounce', unit: '×', min: 0, max: 2, step: 0.05 },
  armSwing: { label: 'Arm swing', unit: '×', min: 0, max: 2, step: 0.05 },
  spacing: { label: 'Foot spacing', unit: 'm', min: 0, max: 0.5, step: 0.01 },
  hipSway: { label: 'Hip sway', unit: 'm', min: 0, max: 0.1, step: 0.002 },
  hipTurn: { label: 'Hip turn', unit: '°', min: 0, max: 20, step: 0.5 },
  lean: { label: 'Lean', unit: '°', min: -12, max: 25, step: 0.5 },
  stepHeight: { label: 'Step height', unit: 'm', min: 0, max: 0.35, step: 0.01 },
  limp: { label: 'Limp, right leg', unit: '×', min: 0, max: 1, step: 0.05 },
  rise: { label: 'Stairs, each step', unit: 'm', min: -0.25, max: 0.25, step: 0.01 },
  cycles: { label: 'Strides', unit: '', min: 1, max: 20, step: 1 },
} as const;
export type GaitNumber = keyof typeof LIMITS;

export const CARRYING_HANDS = ['none', 'left', 'right', 'both'] as const;
export const CARRIED_THINGS = ['bag', 'rail', 'lantern'] as const;
const GAITS = ['walk', 'run'] as const;
export const DIRECTIONS = ['ahead', 'back', 'left', 'right'] as const;

const number = (id: GaitNumber) => z.number().min(LIMITS[id].min).max(LIMITS[id].max);

/** What a walk or run is made from; lengths of the house figure, whose leg is 0.86 m. */
export const GaitSettingsSchema = z.strictObject({
  gait: z.enum(GAITS),
  direction: z.enum(DIRECTIONS),
  speed: number('speed'),
  stride: number('stride'),
  bounce: number('bounce'),
  armSwing: number('armSwing'),
  spacing: number('spacing'),
  hipSway: number('hipSway'),
  hipTurn: number('hipTurn'),
  lean: number('lean'),
  stepHeight: number('stepHeight'),
  limp: number('limp'),
  rise: number('rise'),
  cycles: number('cycles').int(),
  /** Hands that hold something, and what. */
  hands: z.enum(CARRYING_HANDS),
  holds: z.enum(CARRIED_THINGS),
});
export type GaitSettings = z.infer<typeof GaitSettingsSchema>;

export const WALK: GaitSettings = {
  gait: 'walk',
  direction: 'ahead',
  speed: 1.3,
  stride: 1.38,
  bounce: 1,
  armSwing: 1,
  spacing: 0.1,
  hipSway: 0.027,
  hipTurn: 5,
  lean: 2,
  stepHeight: 0.05,
  limp: 0,
  rise: 0,
  cycles: 2,
  hands: 'none',
  holds: 'bag',
};

export const RUN: GaitSettings = {
  ...WALK,
  gait: 'run',
  speed: 3.4,
  stride: 2.4,
  spacing: 0.06,
  hipSway: 0.012,
  hipTurn: 7,
  lean: 9,
  stepHeight: 0.2,
};

/** Settings that have a slider, in the order in which they are shown. */
export const GAIT_SLIDERS: readonly GaitSlider[] = Object.entries(LIMITS).map(([id, limits]) => ({
  id: id as GaitNumber,
  ...limits,
}));

/**
 * Changes settings by what somebody typed, "speed=1.6".
 * @throws {YarvoError} `bad-setting` naming the setting and what it takes.
 */
export function changeGait(settings: GaitSettings, changes: readonly string[], place: string): GaitSettings {
  const changed: Record<string, unknown> = { ...settings };
  for (const change of changes) {
    const [, id = '', text = ''] = /^([^=]*)=(.*)$/.exec(change) ?? [];
    if (!(id in settings))
      throw badSetting(
        `There is no setting "${id || change}".`,
        place,
        `Give name=value; there are ${Object.keys(settings).join(', ')}.`,
      );
    changed[id] = id in LIMITS ? (text.trim() === '' ? NaN : Number(text)) : text;
  }
  return readGait(changed, place);
}

/** @throws {YarvoError} `bad-setting` */
function readGait(settings: unknown, place: string): GaitSettings {
  const read = GaitSettingsSchema.safeParse(settings);
  if (read.success) return read.data;
  const [issue] = read.error.issues;
  const id = String(issue.path[0] ?? 'settings');
  const limits = id in LIMITS ? LIMITS[id as GaitNumber] : null;
  const value = (settings as Record<string, unknown> | null)?.[id];
  throw badSetting(
    `${id} cannot be ${String(value)}.`,
    place,
    limits
      ? `Give a number from ${limits.min} to ${limits.max}${limits.unit === '' || limits.unit === '×' ? '' : ` ${limits.unit}`}.`
      : `Give one of its values: ${valuesOf(id)}.`,
  );
}

function valuesOf(id: string): string {
  const shape = (GaitSettingsSchema.shape as Record<string, z.ZodType | undefined>)[id];
  return shape instanceof z.ZodEnum ? shape.options.join(', ') : 'see the list of settings';
}

const badSetting = (message: string, place: string, remedy: string): YarvoError =>
  new YarvoError({ code: 'bad-setting', message, place, remedy });
