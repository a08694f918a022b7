import type { CharacterView, FitView } from '@/contract/character-view';
import { distance, type Vec3 } from '@/core/math/vec3';
import { standingFigure } from '@/core/motion/fitted-rig';
import type { RootComponent } from '@/core/motion/carry-options';
import { wayPlace, type RootWay } from '@/core/motion/root-way';
import { roleBonesOf } from '@/core/fit/fit';
import type { Definition } from '@/core/definition/definition';

export interface CapsuleSize {
  /** Metres. */
  readonly radius: number;
  readonly height: number;
}

/** As the fit has it, else as large as the body: as high as it stands, as wide as its shoulders. */
export function capsuleOf(character: CharacterView, definition: Definition, { state }: FitView): CapsuleSize {
  const { capsule } = state.carrying;
  if (capsule) return capsule;
  const { rig, normalisation } = character;
  const { heightMetres } = normalisation;
  const roleBones = roleBonesOf(state);
  const { places } = standingFigure({ rig, definition, normalisation, roleBones, pose: state.posture });
  const [left, right] = ['leftUpperArm', 'rightUpperArm'].map((role) => roleBones.get(role));
  const wide =
    left === undefined || right === undefined ? heightMetres * WIDE_SHARE : distance(places[left], places[right]);
  const rounded = (metres: number): number => Math.max(0.01, Math.round(metres * 100) / 100);
  return { radius: rounded(wide / 2 + heightMetres * ARM_SHARE), height: rounded(heightMetres) };
}

/** Shoulders of a person, and half an arm, of the height. */
const WIDE_SHARE = 0.2;
const ARM_SHARE = 0.03;

/** Pale capsules along a way: this far apart, in radii. */
const APART_RADII = 1.6;
const MOST_CAPSULES = 24;

/** Where capsules are drawn along a way, three numbers each. */
export function capsuleBases(
  way: RootWay,
  components: readonly RootComponent[],
  { radius }: CapsuleSize,
): Float32Array {
  const frames = way.length / 4;
  const kept: Vec3[] = [];
  for (let frame = 0; frame < frames && kept.length < MOST_CAPSULES; frame++) {
    const place = wayPlace(way, frame, components);
    const last = kept.at(-1);
    if (!last || distance(place, last) >= APART_RADII * radius) kept.push(place);
  }
  return Float32Array.from(kept.flat());
}
