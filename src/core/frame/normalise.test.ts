import { describe, expect, it } from 'vitest';
import type { BodyFrame } from './body-frame';
import { distance, type Vec3 } from '../math/vec3';
import { makeRig } from '../../../tests/helpers/rig-maker';
import { axisVector, computeNormalisation, toBody, type AxisName } from './normalise';

const frame = (up: Vec3, facing: Vec3): BodyFrame => ({
  up,
  facing,
  left: [1, 0, 0],
  confidence: 1,
  namesAreSwapped: false,
  reasons: [],
});
/** Two joints one body apart along the up axis. */
const pole = (height: number, up: AxisName = '+Y') => {
  const [x, y, z] = axisVector(up);
  return makeRig([
    { name: 'a', parent: null, position: [0, 0, 0] },
    { name: 'b', parent: 'a', position: [x * height, y * height, z * height] },
  ]);
};

describe('normalisation', () => {
  it.each<[number, number]>([
    [1.7, 1],
    [170, 0.01],
    [1700, 0.001],
    [66, 0.0254],
    [0.017, 100],
    [3.5, 1],
    [0.8, 1],
  ])('reads a figure of %d units with %d m a unit', (height, scale) => {
    const { heightMetres, ...rest } = computeNormalisation(pole(height), frame([0, 1, 0], [0, 0, 1]));
    expect(rest.scale).toBe(scale);
    expect(heightMetres).toBeCloseTo(height * scale, 9);
  });

  it('leaves a height alone that no unit explains, and says so', () => {
    const { scale, notes } = computeNormalisation(pole(9e6), frame([0, 1, 0], [0, 0, 1]));
    expect(scale).toBe(1);
    expect(notes[0]).toMatch(/no usual unit/);
  });

  it.each<[AxisName, AxisName]>([
    ['+Y', '+Z'],
    ['+Y', '-Z'],
    ['+Y', '+X'],
    ['+Z', '-Y'],
    ['-Z', '+Y'],
    ['+X', '+Z'],
  ])('turns a body with %s up facing %s upright and to the front', (up, facing) => {
    const normalisation = computeNormalisation(pole(1.7, up), frame(axisVector(up), axisVector(facing)));
    expect(normalisation).toMatchObject({ up, facing });
    expect(distance(toBody(normalisation, axisVector(up)), [0, 1, 0])).toBeLessThan(1e-9);
    expect(distance(toBody(normalisation, axisVector(facing)), [0, 0, 1])).toBeLessThan(1e-9);
  });

  it('snaps a leaning trunk and a slight turn to the axes and reports what is left', () => {
    const yaw = 0.2;
    const normalisation = computeNormalisation(
      pole(1.7),
      frame([0, Math.cos(0.15), Math.sin(0.15)], [Math.sin(yaw), 0, Math.cos(yaw)]),
    );
    expect(normalisation).toMatchObject({ up: '+Y', facing: '+Z' });
    expect(normalisation.residualYawRad).toBeCloseTo(yaw, 6);
    expect(normalisation.residualTiltRad).toBeCloseTo(0.15, 6);
    expect(normalisation.notes.join(' ')).toMatch(/11\.5 degrees of turn remain/);
  });
});
