import { conjugate, rotate } from '@/core/math/quat';
import { add, type Vec3 } from '@/core/math/vec3';
import { useAddress } from '../character/use-address';
import { useCharacter } from '../character/character-context';
import type { Carried } from './use-carried';
import type { PlayerHandle } from './use-player';

/** Takes over where a point that bears was dragged to, on the sheet about them, in the frame that stands; undefined while it cannot be. */
export function useBearingDrag(
  carried: Carried | null,
  { state }: PlayerHandle,
): ((point: number, by: Vec3) => void) | undefined {
  const { fit, act } = useCharacter();
  const isShown = useAddress().get('sheet') === 'carrying';
  if (!isShown || !carried || !state || state.isPlaying || fit.state.isClosed) return undefined;
  const { frame } = state;
  return (at, by) => {
    const point = carried.info.figures[0].bearing[at];
    if (!point) return;
    void carried.stance(frame).then(({ changes }) => {
      // Back from the frame to the reference pose, and from there to the axes of the bone that it is fixed to.
      const inReference = rotate(conjugate(changes[point.role]), by);
      const { contactPoints } = fit.state.carrying;
      act({
        kind: 'set-carrying',
        change: { contactPoints: { ...contactPoints, [point.name]: rotate(point.turn, add(point.from, inReference)) } },
      });
    });
  };
}
