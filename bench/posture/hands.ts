import { digitRoles, DIGITS, SIDES, type Side } from '@/core/definition/definition';
import { QUAY } from '@/core/definition/quay';
import { initialFit, roleBonesOf } from '@/core/fit/fit';
import type { Geometry } from '@/core/geometry/geometry';
import type { AlignInput } from '@/core/posture/align-order';
import { makeSurface, nearestOnSurface } from '@/core/posture/nearest-on-surface';
import { FILE_REST, takenPosture, withAligned } from '@/core/posture/posture';
import { posedPlaces, selectedTriangles, selectVertices } from '@/core/posture/skinned-selection';
import { turnRoles, type TurnAxis } from '@/core/posture/turn-roles';
import { computeWorlds, REST_POSE, type RigPose } from '@/core/rig/pose';
import { readGeometry } from '@/document/read-geometry';
import { runFirstPass } from '@/pipeline/match';
import { readGlb } from '@/pipeline/read-files';
import { readCast, SKINNED } from '../../tests/helpers/cast-files';

/**
 * `npx tsx bench/posture/hands.ts`: how deep digits stand in one another and in the palm, before and after aligning, for
 * each skinned character of the cast with fingers, posed in T, A, hanging and fist. Neighbours along a digit are left out:
 * its first segment grows out of the palm. Millimetres.
 */
const fingers = (side: Side) => DIGITS.filter((digit) => digit !== 'Thumb').flatMap((digit) => digitRoles(side, digit));
const thumb = (side: Side) => digitRoles(side, 'Thumb').slice(1);

interface Bend {
  readonly roles: (side: Side) => readonly string[];
  readonly about: TurnAxis;
  readonly degrees: number;
}
const upperArm = (degrees: number): Bend => ({ roles: (side) => [`${side}UpperArm`], about: 'front', degrees });
const POSES: Readonly<Record<string, readonly Bend[]>> = {
  T: [],
  A: [upperArm(-45)],
  hanging: [upperArm(-82)],
  fist: [
    { roles: fingers, about: 'hinge', degrees: 70 },
    { roles: thumb, about: 'hinge', degrees: 35 },
  ],
};

const posed = (input: AlignInput, bends: readonly Bend[]): RigPose =>
  bends.reduce<RigPose>(
    (pose, { roles, about, degrees }) =>
      turnRoles(input, pose, { roles: new Set(SIDES.flatMap(roles)), about, radians: (degrees * Math.PI) / 180 }),
    withAligned(input, FILE_REST, null),
  );

/** Deepest place of any digit in another one or in the palm, millimetres; 0 where nothing touches. */
function deepest(input: AlignInput, geometry: Geometry, pose: RigPose): number {
  const { rig, roleBones, normalisation } = input;
  const worlds = computeWorlds(rig, pose);
  const select = (roles: readonly string[]) =>
    selectVertices(rig, geometry, new Set(roles.flatMap((role) => roleBones.get(role) ?? [])));
  let depth = 0;
  for (const side of SIDES) {
    const parts = [
      ...DIGITS.map((digit) => ({
        all: select(digitRoles(side, digit)),
        free: select(digitRoles(side, digit).slice(1)),
      })),
      { all: select([`${side}Hand`]), free: null },
    ];
    const surfaces = parts.map(({ all }) =>
      all.vertexCount === 0 ? null : makeSurface(posedPlaces(all, worlds, normalisation), selectedTriangles(all)),
    );
    parts.forEach((part, at) => {
      if (!part.free) return;
      const places = posedPlaces(part.free, worlds, normalisation);
      if (places.length === 0) return;
      surfaces.forEach((surface, other) => {
        if (other === at || !surface) return;
        depth = Math.max(depth, -nearestOnSurface(places, surface) * 1000);
      });
    });
  }
  return depth;
}

process.stdout.write(
  '| character | pose | rest of the file | before | after aligning | growth |\n|---|---|---|---|---|---|\n',
);
let most = -Infinity;
for (const name of SKINNED) {
  const { rig, document } = await readGlb((await readCast(name)).glb, name);
  const first = runFirstPass(rig, QUAY);
  const input = { rig, definition: QUAY, ...first, roleBones: roleBonesOf(initialFit(first.match, QUAY)) };
  if (!input.roleBones.has('leftIndexProximal')) continue;
  const geometry = readGeometry(document, rig, name);
  const rest = deepest(input, geometry, REST_POSE);
  for (const [label, bends] of Object.entries(POSES)) {
    const start = posed(input, bends);
    const after = withAligned(input, takenPosture(start, FILE_REST), null);
    const [a, b] = [deepest(input, geometry, start), deepest(input, geometry, after)];
    most = Math.max(most, b - a);
    process.stdout.write(
      `| ${name} | ${label} | ${rest.toFixed(2)} | ${a.toFixed(2)} | ${b.toFixed(2)} | ${(b - a).toFixed(2)} |\n`,
    );
  }
}
process.stdout.write(`\nMost growth: ${most.toFixed(2)} mm\n`);
