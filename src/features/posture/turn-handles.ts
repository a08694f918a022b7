import type { Vec3 } from '@/core/math/vec3';
import { anyPerpendicular, normalise, reject } from '@/core/math/vec3';
import { toBody } from '@/core/frame/normalise';
import type { AlignInput } from '@/core/posture/align-order';
import { computeRoleFrame } from '@/core/posture/role-frames';
import { turnAngle } from '@/core/posture/turn-angle';
import { turnAxisOf, type TurnAxis } from '@/core/posture/turn-roles';
import { computeWorlds } from '@/core/rig/pose';
import { signedDegrees } from '@/ui/text';
import type { TurnHandle } from '@/ui/stage/overlay-types';
import type { PaneView } from '@/ui/stage/projection';
import type { Turning } from './use-turning';

/** A flat view turns about the axis it is seen along; the free one about what is chosen. */
export const axisOfView = (view: PaneView, chosen: TurnAxis): TurnAxis =>
  view === 'front' ? 'front' : view === 'side' ? 'left' : view === 'top' ? 'up' : chosen;

/** Handles of the picked role in each view, as they stand while a turn goes on. */
export function turnHandlesOf(
  input: AlignInput,
  role: string | null,
  turning: Pick<Turning, 'about' | 'base' | 'live' | 'step'>,
  views: readonly PaneView[],
): ReadonlyMap<PaneView, TurnHandle> {
  const handles = new Map<PaneView, TurnHandle>();
  if (role === null || !input.roleBones.has(role)) return handles;
  const worlds = computeWorlds(input.rig, turning.base);
  const frame = computeRoleFrame({ ...input, worlds }, role);
  if (!frame) return handles;
  const joint = worlds[frame.boneIndex];
  const centre = toBody(input.normalisation, [joint[12], joint[13], joint[14]]);
  for (const view of views) {
    const about = axisOfView(view, turning.about);
    // One turn goes on at a time: the other views show their handles when it is over.
    if (turning.live && turning.live.about !== about) continue;
    const axis = turnAxisOf(input.definition, role, about, frame);
    if (!axis) continue;
    const degrees = turning.live?.degrees ?? 0;
    const angle = turnAngle({ ...input, worlds }, role, about);
    const stands = angle === null ? null : (angle * 180) / Math.PI + degrees;
    handles.set(view, {
      centre,
      axis,
      from: acrossAxis(frame.direction, axis),
      degrees,
      stepDegrees: turning.step,
      text: [
        ...(stands === null ? [] : [`${signedDegrees(wrapped(stands), false)}`]),
        ...(degrees !== 0 || stands === null ? [signedDegrees(degrees, true)] : []),
      ].join('  '),
    });
  }
  return handles;
}

/** The knob stands in line with the segment; for a twist, anywhere across it. */
function acrossAxis(direction: Vec3, axis: Vec3): Vec3 {
  const across = reject(direction, axis);
  return (Math.hypot(...across) > 0.1 ? normalise(across) : null) ?? anyPerpendicular(axis);
}

const wrapped = (degrees: number): number => degrees - 360 * Math.round(degrees / 360);
