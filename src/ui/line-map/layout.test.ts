import { describe, expect, it } from 'vitest';
import { mirrorRole } from '@/core/definition/definition';
import { QUAY } from '@/core/definition/quay';
import { layoutLineMap, MAP_HEIGHT, MAP_WIDTH, neighbourStop } from './layout';

const layout = layoutLineMap(QUAY);
const at = (role: string) => {
  const stop = layout.stops.find((candidate) => candidate.role === role);
  if (!stop) throw new Error(`no stop for ${role}`);
  return stop;
};

describe('the line map', () => {
  it('has one stop for every role, inside the drawing', () => {
    expect(layout.stops.map((stop) => stop.role).sort()).toEqual(QUAY.roles.map((role) => role.id).sort());
    for (const { x, y } of layout.stops) {
      expect(x).toBeGreaterThan(10);
      expect(x).toBeLessThan(MAP_WIDTH - 10);
      expect(y).toBeGreaterThan(10);
      expect(y).toBeLessThan(MAP_HEIGHT - 10);
    }
  });

  it('draws the limbs as mirror images, the left ones above the trunk', () => {
    const middle = at('hips').y;
    for (const role of ['leftHand', 'leftFoot', 'leftEye', 'leftUpperArm']) {
      expect(at(role).y).toBeLessThan(middle);
      expect(at(role).x).toBe(at(mirrorRole(role)).x);
    }
    for (const role of ['leftHand', 'leftFoot']) expect(at(role).y + at(mirrorRole(role)).y).toBe(2 * middle);
  });

  it('lets no two stops touch', () => {
    for (const a of layout.stops) for (const b of layout.stops) if (a !== b) expect(Math.hypot(a.x - b.x, a.y - b.y), `${a.role} ${b.role}`).toBeGreaterThan(14);
  });

  it('moves with the arrow keys along the body', () => {
    expect(neighbourStop(layout.stops, at('hips'), 'right').role).toBe('spine');
    expect(neighbourStop(layout.stops, at('leftUpperArm'), 'right').role).toBe('leftLowerArm');
    expect(neighbourStop(layout.stops, at('leftFoot'), 'left').role).toBe('leftToes');
    expect(neighbourStop(layout.stops, at('leftIndexProximal'), 'down').role).toBe('leftMiddleProximal');
  });

  it('can reach every stop from the hips with the arrow keys alone', () => {
    const reached = new Set(['hips']);
    const pending = [at('hips')];
    while (pending.length > 0) {
      const from = pending.pop() as (typeof layout.stops)[number];
      for (const direction of ['left', 'right', 'up', 'down'] as const) {
        const next = neighbourStop(layout.stops, from, direction);
        if (reached.has(next.role)) continue;
        reached.add(next.role);
        pending.push(next);
      }
    }
    expect(QUAY.roles.filter((role) => !reached.has(role.id)).map((role) => role.id)).toEqual([]);
  });
});
