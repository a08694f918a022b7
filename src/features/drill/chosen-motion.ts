import type { MotionList, MotionView } from '@/contract/motions';
import type { Rig } from '@/core/rig/rig';

/** What is played: a motion of the shelf, or a clip of the character's own file. */
export type ChosenMotion =
  { readonly kind: 'shelf'; readonly motion: MotionView } | { readonly kind: 'own'; readonly clip: number };

export const ownMotionId = (clip: number): string => `own-${clip}`;

/** The motion that an address names; the first there is where it names none, or one that is gone. */
export function chosenMotion(
  wanted: string | null,
  list: MotionList | null,
  { clips }: Pick<Rig, 'clips'>,
): ChosenMotion | null {
  const [, own] = /^own-(\d+)$/.exec(wanted ?? '') ?? [];
  if (own !== undefined && clips[Number(own)]?.durationSeconds > 0) return { kind: 'own', clip: Number(own) };
  const found = list?.motions.find(({ id }) => id === wanted);
  if (found) return { kind: 'shelf', motion: found };
  if (wanted !== null && list === null) return null;
  const first = clips.findIndex(({ durationSeconds }) => durationSeconds > 0);
  if (first >= 0) return { kind: 'own', clip: first };
  return list && list.motions.length > 0 ? { kind: 'shelf', motion: list.motions[0] } : null;
}
