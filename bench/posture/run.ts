import { writeFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { QUAY, QUAY_A45 } from '@/core/definition/quay';
import type { Definition } from '@/core/definition/definition';
import { computeNormalisation } from '@/core/frame/normalise';
import { cross, distance, dot, type Vec3 } from '@/core/math/vec3';
import { alignPosture } from '@/core/posture/align-posture';
import { measurePosture } from '@/core/posture/measure-posture';
import { computeRoleFrames } from '@/core/posture/role-frames';
import { computeWorlds, REST_POSE } from '@/core/rig/pose';
import { orientationOf } from './truth';
import { makeBiped, type MadeRig } from '../match/make-rig';
import { TUNING_HABITS } from '../match/naming';
import { ODD_TOPOLOGIES } from '../match/odd-topologies';
import { Random } from '../match/random';
import { QUAY_ROLES } from '../match/roles';
import { HELD_TOPOLOGIES, TUNING_TOPOLOGIES } from '../match/topologies';

/**
 * Aligns the made rigs of `bench/match` with their true roles, and says how far off any aligned role is afterwards:
 * `npx tsx bench/posture/run.ts [PER_TOPOLOGY] [--write]`; --write puts it into docs/posture-report.md.
 */
const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: { write: { type: 'boolean', default: false } },
});
const perTopology = Number(positionals[0] ?? 60);

interface Row {
  rigs: number;
  roles: number;
  /** Largest deviation of an aligned role, degrees, and how many roles are off by more than 0.05 degrees. */
  worst: number;
  off: number;
  /** Largest relative change of a bone's length. */
  stretched: number;
  /** Elbows and knees whose fold turned the other way. */
  reversed: number;
  undefinedValues: number;
}

const HINGES = ['LowerArm', 'LowerLeg'] as const;
const OFF_DEGREES = 0.05;

function alignOne(row: Row, made: MadeRig, definition: Definition): void {
  const { rig, truth } = made;
  const roleBones = new Map(truth.flatMap((role, bone) => (QUAY_ROLES.has(role) ? [[role, bone] as const] : [])));
  const normalisation = computeNormalisation(rig, orientationOf(made));
  const input = { rig, definition, roleBones, normalisation };
  const pose = alignPosture(input, REST_POSE);
  const [before, after] = [REST_POSE, pose].map((each) => computeWorlds(rig, each));
  const place = (worlds: readonly (readonly number[])[], bone: number): Vec3 => [
    worlds[bone][12],
    worlds[bone][13],
    worlds[bone][14],
  ];
  row.rigs++;
  if (after.flat().some((value) => !Number.isFinite(value))) row.undefinedValues++;
  for (const { alignment, deviationRad } of measurePosture({ ...input, worlds: after }).deviations) {
    if (alignment === 'leave') continue;
    const degrees = (deviationRad * 180) / Math.PI;
    row.roles++;
    row.worst = Math.max(row.worst, degrees);
    if (degrees > OFF_DEGREES) row.off++;
  }
  const hips = roleBones.get('hips');
  for (const { index, parent } of rig.bones) {
    if (parent < 0 || index === hips) continue;
    const [was, is] = [before, after].map((worlds) => distance(place(worlds, index), place(worlds, parent)));
    if (was > 1e-9) row.stretched = Math.max(row.stretched, Math.abs(is / was - 1));
  }
  const [bent, straight] = [before, after].map((worlds) => computeRoleFrames({ ...input, worlds }));
  for (const side of ['left', 'right'])
    for (const part of HINGES) {
      const fold = (frames: typeof bent): number => {
        const [upper, lower] = [frames.get(side + part.replace('Lower', 'Upper')), frames.get(side + part)];
        const hinge = definition.roles.find(({ id }) => id === side + part)?.hinge;
        return upper && lower && hinge ? dot(cross(upper.direction, lower.direction), hinge) : 0;
      };
      if (fold(bent) > 0.02 && fold(straight) < -1e-3) row.reversed++;
    }
}

const lines = [
  '| definition | topology | rigs | aligned roles | worst, degrees | off by more than 0.05 degrees | largest change of a length | folds reversed | undefined |',
  '|---|---|---|---|---|---|---|---|---|',
];
for (const definition of [QUAY, QUAY_A45]) {
  for (const [t, topology] of [...TUNING_TOPOLOGIES, ...ODD_TOPOLOGIES, ...HELD_TOPOLOGIES].entries()) {
    const row: Row = { rigs: 0, roles: 0, worst: 0, off: 0, stretched: 0, reversed: 0, undefinedValues: 0 };
    for (let index = 0; index < perTopology; index++)
      alignOne(row, makeBiped(new Random(5_000_011 + t * 10_007 + index), topology, TUNING_HABITS[0]), definition);
    lines.push(
      `| ${definition.label} | ${topology.name} | ${row.rigs} | ${row.roles} | ${row.worst.toFixed(4)} | ${row.off} | ${row.stretched.toExponential(1)} | ${row.reversed} | ${row.undefinedValues} |`,
    );
  }
}
process.stdout.write(`${lines.join('\n')}\n`);
if (values.write)
  writeFileSync(
    'docs/posture-report.md',
    `# Posture benchmarks

Made by \`npx tsx bench/posture/run.ts ${perTopology} --write\`: the made rigs of \`bench/match\` (all topologies, poses and
proportions), aligned with their true roles to each shipped definition. Aligned are arms, legs, hands, digits, and feet
about the up axis; the spine, collars and toes are measured and left.

${lines.join('\n')}
`,
  );
