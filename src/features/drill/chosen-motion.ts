import type { HouseChoice, MotionList, MotionView } from '@/contract/motions';
import { changeGait, type GaitSettings } from '@/core/house/gait-settings';
import { HOUSE_SET } from '@/core/house/house-set';
import type { Rig } from '@/core/rig/rig';

/** What is played: a motion of the shelf, one of the house set, or a clip of the character's own file. */
export type ChosenMotion =
  | { readonly kind: 'shelf'; readonly motion: MotionView; readonly house: HouseChoice | null }
  | { readonly kind: 'house'; readonly house: HouseChoice }
  | { readonly kind: 'own'; readonly clip: number };

export const ownMotionId = (clip: number): string => `own-${clip}`;
export const houseMotionId = (entry: string): string => `house-${entry}`;

/** The address of a motion that is played. */
export function addressOf(chosen: ChosenMotion): string {
  if (chosen.kind === 'own') return ownMotionId(chosen.clip);
  return chosen.kind === 'house' ? houseMotionId(chosen.house.entry) : chosen.motion.id;
}

/**
 * The motion that an address names, with what was changed about its settings; the first there is where it names none, or
 * one that is gone.
 */
export function chosenMotion(
  { motion: wanted, set }: { readonly motion: string | null; readonly set: string | null },
  list: MotionList | null,
  { clips }: Pick<Rig, 'clips'>,
): ChosenMotion | null {
  const [, own] = /^own-(\d+)$/.exec(wanted ?? '') ?? [];
  if (own !== undefined && clips[Number(own)]?.durationSeconds > 0) return { kind: 'own', clip: Number(own) };
  const [, entry] = /^house-(.+)$/.exec(wanted ?? '') ?? [];
  const house = HOUSE_SET.find(({ id }) => id === entry);
  if (house) return { kind: 'house', house: withSettings({ entry: house.id, settings: house.settings }, set) };
  const found = list?.motions.find(({ id }) => id === wanted);
  if (found) return onShelf(found, set);
  if (wanted !== null && list === null) return null;
  const first = clips.findIndex(({ durationSeconds }) => durationSeconds > 0);
  if (first >= 0) return { kind: 'own', clip: first };
  if (list && list.motions.length > 0) return onShelf(list.motions[0], null);
  const walk = HOUSE_SET.find(({ id }) => id === 'walk');
  return list && walk ? { kind: 'house', house: { entry: walk.id, settings: walk.settings } } : null;
}

const onShelf = (motion: MotionView, set: string | null): ChosenMotion => ({
  kind: 'shelf',
  motion,
  house: motion.kind === 'house' ? withSettings(motion.house, set) : null,
});

/** Settings with what an address changes about them; what it cannot change so stays. */
function withSettings(base: HouseChoice, set: string | null): HouseChoice {
  if (!set || !base.settings) return base;
  let { settings } = base;
  for (const change of set.split(',')) {
    try {
      settings = changeGait(settings, [change.replace(':', '=')], base.entry);
    } catch {
      // An address that was typed wrong changes nothing.
    }
  }
  return { ...base, settings };
}

/** What an address has to say for settings to come out; null for the base itself. */
export function settingsText(base: GaitSettings, settings: GaitSettings): string | null {
  const changed = (Object.keys(base) as (keyof GaitSettings)[]).filter((key) => base[key] !== settings[key]);
  return changed.map((key) => `${key}:${settings[key]}`).join(',') || null;
}
