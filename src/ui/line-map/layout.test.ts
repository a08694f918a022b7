import { describe, expect, it } from 'vitest';
import { mirrorRole } from '@/core/definition/definition';
import { QUAY } from '@/core/definition/quay';
import { captionSpan, hitBoxes, layoutLineMap, MAP_HEIGHT, MAP_WIDTH, neighbourStop, type Stop } from './layout';

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
      expect(at(role).x).toBe(at(mirrorRole(QUAY, role)).x);
    }
    for (const role of ['leftHand', 'leftFoot']) expect(at(role).y + at(mirrorRole(QUAY, role)).y).toBe(2 * middle);
  });

  it('lets no two stops touch', () => {
    for (const a of layout.stops)
      for (const b of layout.stops)
        if (a !== b) expect(Math.hypot(a.x - b.x, a.y - b.y), `${a.role} ${b.role}`).toBeGreaterThan(14);
  });

  it('leaves room for the longest names side by side', () => {
    const spans = layout.stops
      .filter(({ caption }) => caption === 'above' || caption === 'below')
      .map((stop) => ({ role: stop.role, row: `${stop.caption} ${stop.y}`, span: captionSpan(stop) }));
    for (const a of spans)
      for (const b of spans)
        if (a !== b && a.row === b.row && a.span[0] <= b.span[0])
          expect(b.span[0] - a.span[1], `${a.role} ${b.role}`).toBeGreaterThan(3);
  });

  it('gives each stop a place of its own for the pointer, bar and captions in one', () => {
    const isIn = (stop: Stop, x: number, y: number) =>
      hitBoxes(stop).some((box) => x > box.x && x < box.x + box.width && y > box.y && y < box.y + box.height);
    for (const stop of layout.stops) {
      expect(layout.stops.filter((other) => isIn(other, stop.x, stop.y)).map(({ role }) => role)).toEqual([stop.role]);
      // The middle of all that belongs to it, where assistive software presses.
      const boxes = hitBoxes(stop);
      const middle = (at: 'x' | 'y', size: 'width' | 'height') =>
        (Math.min(...boxes.map((box) => box[at])) + Math.max(...boxes.map((box) => box[at] + box[size]))) / 2;
      expect(
        layout.stops
          .filter((other) => isIn(other, middle('x', 'width'), middle('y', 'height')))
          .map(({ role }) => role),
      ).toEqual([stop.role]);
    }
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
