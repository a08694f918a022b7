import { roleOf, SIDES, type Definition, type Side } from '../definition/definition';
import { angleBetween, type Vec3 } from '../math/vec3';
import type { RoleFrame } from './role-frames';
import { yawBetween, type PostureMeasure, type RoleDeviation } from './measure-posture';

type PostureClass = 'T' | 'A' | 'other';

export interface PostureSummary {
  readonly class: PostureClass;
  /** Arms below the horizontal, radians, mean of both sides; null without arms. */
  readonly armsDownRad: number | null;
  /** One plain sentence with the angles that matter. */
  readonly sentence: string;
}

const DEGREE = Math.PI / 180;
const T_LIMIT = 10 * DEGREE;
const A_LIMIT = 72 * DEGREE;
const SIDES_DIFFER = 15 * DEGREE;
const WORTH_SAYING = 3 * DEGREE;
const ALIKE = 0.5 * DEGREE;

const degrees = (rad: number): string => `${(rad / DEGREE).toFixed(1)} degrees`;
/** Angle below the horizontal; negative above it. */
const downAngle = (direction: Vec3): number => Math.atan2(-direction[1], Math.hypot(direction[0], direction[2]));

/**
 * T-pose, A-pose or another, from upper arm and forearm of both sides, and what else is not straight. A body that is bent
 * or turned has no such name, wherever its arms point.
 */
export function classifyPosture({ frames, deviations }: PostureMeasure, definition: Definition): PostureSummary {
  const bent = deviations
    .filter(({ alignment, isWithin }) => alignment === 'leave' && !isWithin)
    .sort((a, b) => b.deviationRad - a.deviationRad);
  const arms = SIDES.map((side) => armAngles(frames, side)).filter((angles) => angles !== null);
  const sentences: string[] = [];
  let kind: PostureClass = 'other';
  let armsDownRad: number | null = null;
  if (arms.length > 0) {
    armsDownRad = arms.reduce((sum, arm) => sum + arm.down, 0) / arms.length;
    const isEven = arms.every((arm) => Math.abs(arm.down - (armsDownRad as number)) < SIDES_DIFFER);
    const isSideways = arms.every((arm) => arm.isSideways);
    if (isEven && isSideways && Math.abs(armsDownRad) <= T_LIMIT) kind = 'T';
    else if (isEven && isSideways && armsDownRad > 0 && armsDownRad <= A_LIMIT) kind = 'A';
    const isBent = bent.some(({ isStopping }) => isStopping);
    if (isBent) kind = 'other';
    sentences.push(
      isBent ? 'Neither T nor A: the body is bent or turned' : describeArms(kind, armsDownRad, isEven, isSideways),
    );
  } else sentences.push('No arms to judge by');
  sentences.push(...describeBent(bent, definition), ...describeSides(frames));
  return { class: kind, armsDownRad, sentence: `${sentences.join('; ')}.` };
}

function armAngles(
  frames: ReadonlyMap<string, RoleFrame>,
  side: 'left' | 'right',
): { down: number; isSideways: boolean } | null {
  const [upper, lower] = [frames.get(`${side}UpperArm`), frames.get(`${side}LowerArm`)];
  if (!upper) return null;
  const parts = [upper, ...(lower ? [lower] : [])].map((frame) => frame.direction);
  const down = parts.reduce((sum, direction) => sum + downAngle(direction), 0) / parts.length;
  const out = side === 'left' ? 1 : -1;
  const isSideways = parts.every(
    (direction) => direction[0] * out > Math.abs(direction[2]) * 0.9 || Math.abs(downAngle(direction)) > A_LIMIT,
  );
  return { down, isSideways };
}

function describeArms(kind: PostureClass, downRad: number, isEven: boolean, isSideways: boolean): string {
  if (kind === 'T')
    return Math.abs(downRad) < WORTH_SAYING
      ? 'T-pose'
      : `T-pose, arms ${degrees(Math.abs(downRad))} ${downRad > 0 ? 'down' : 'up'}`;
  if (kind === 'A') return `A-pose, arms ${degrees(downRad)} down`;
  if (!isEven) return 'Neither T nor A: the arms differ';
  if (!isSideways) return 'Neither T nor A: the arms point forward or back';
  return downRad > 0 ? `Arms hang ${degrees(downRad)} down` : `Arms raised ${degrees(-downRad)}`;
}

const MOST_NAMED = 3;

/** "hips 141.6 degrees off, neck 44.0 degrees off": what aligning leaves and the eye does not. */
function describeBent(bent: readonly RoleDeviation[], definition: Definition): string[] {
  const named = bent
    .slice(0, MOST_NAMED)
    .map(({ role, deviationRad }) => `${roleOf(definition, role).label.toLowerCase()} ${degrees(deviationRad)} off`);
  const rest = bent.length - named.length;
  return rest > 0 ? [...named, `${rest} more parts of the body are off`] : named;
}

/** Bends of elbows and knees and turns of the feet; one statement where both sides agree. */
function describeSides(frames: ReadonlyMap<string, RoleFrame>): string[] {
  const bend =
    (upper: string, lower: string) =>
    (side: Side): number | null => {
      const [a, b] = [frames.get(side + upper), frames.get(side + lower)];
      return a && b ? angleBetween(a.direction, b.direction) : null;
    };
  const footYaw = (side: Side): number | null => {
    const foot = frames.get(`${side}Foot`);
    return foot ? yawBetween([0, 0, 1], foot.direction) * (side === 'left' ? 1 : -1) : null;
  };
  return [
    ...describePair('elbow', 'elbows', bend('UpperArm', 'LowerArm'), () => 'bent'),
    ...describePair('knee', 'knees', bend('UpperLeg', 'LowerLeg'), () => 'bent'),
    ...describePair('foot', 'feet', footYaw, (yaw) => (yaw > 0 ? 'out' : 'in')),
  ];
}

function describePair(
  one: string,
  both: string,
  angleOf: (side: Side) => number | null,
  word: (angle: number) => string,
): string[] {
  const angles = SIDES.map((side) => ({ side, angle: angleOf(side) })).filter(
    (entry): entry is { side: Side; angle: number } => entry.angle !== null && Math.abs(entry.angle) > WORTH_SAYING,
  );
  const say = (name: string, angle: number) => `${name} ${degrees(Math.abs(angle))} ${word(angle)}`;
  if (angles.length === 2 && Math.abs(angles[0].angle - angles[1].angle) < ALIKE)
    return [say(both, (angles[0].angle + angles[1].angle) / 2)];
  return angles.map(({ side, angle }) => say(`${side} ${one}`, angle));
}
