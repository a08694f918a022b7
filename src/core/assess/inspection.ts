import { z } from 'zod';
import { FindingSchema } from '../checks/finding';
import { countBlockers } from '../checks/run-checks';
import type { Definition } from '../definition/definition';
import { ProblemSchema } from '../errors/yarvo-error';
import { SPARE_KINDS } from '../match/match-types';
import type { EngineProfile } from '../profile/profile';
import type { Rig } from '../rig/rig';
import { assessFit, type FirstPass } from './assess';
import { initialFit } from '../fit/fit';

const Candidate = z.strictObject({
  bone: z.string(),
  boneIndex: z.int().nonnegative(),
  confidence: z.number().min(0).max(1),
});

/** One line of `yarvo inspect --json`. `bone` is the file's own name, `boneIndex` the node's index in the file. */
export const InspectionSchema = z.strictObject({
  file: z.string(),
  kind: z.enum(['character', 'skeleton', 'mesh', 'motion']),
  humanoid: z.strictObject({ verdict: z.boolean(), reasons: z.array(z.string()) }),
  source: z.strictObject({
    format: z.string(),
    /** Metres per file unit, as measured on the body. */
    unit: z.number().positive(),
    up: z.string(),
    facing: z.string(),
    bones: z.int().nonnegative(),
  }),
  lines: z.array(
    z.strictObject({
      line: z.string(),
      bones: z.array(z.string()),
      anchors: z.record(z.string(), z.int().nonnegative()),
    }),
  ),
  assignments: z.record(
    z.string(),
    Candidate.extend({
      state: z.enum(['proposed', 'doubtful']),
      evidence: z.array(z.string()),
      runnersUp: z.array(Candidate),
    }),
  ),
  spares: z.array(z.strictObject({ bone: z.string(), boneIndex: z.int().nonnegative(), kind: z.enum(SPARE_KINDS) })),
  posture: z.strictObject({
    class: z.enum(['T', 'A', 'other']),
    deviationsDeg: z.record(z.string(), z.number()),
    rollsDeg: z.record(z.string(), z.number()),
  }),
  findings: z.array(FindingSchema),
  ms: z.strictObject({ read: z.number().nonnegative(), match: z.number().nonnegative() }),
});
export type Inspection = z.infer<typeof InspectionSchema>;

/** The line of a file that could not be read. */
export const UnreadableSchema = z.strictObject({ file: z.string(), error: ProblemSchema });
export type Unreadable = z.infer<typeof UnreadableSchema>;

const toDegrees = (rad: number): number => Math.round(((rad * 180) / Math.PI) * 10) / 10;

export function buildInspection(
  file: string,
  rig: Rig,
  first: FirstPass,
  definition: Definition,
  profile: EngineProfile,
  ms: Inspection['ms'],
): Inspection {
  const { match, normalisation } = first;
  const { measure, summary, findings } = assessFit({
    rig,
    fit: initialFit(match, definition),
    definition,
    profile,
    ...first,
  });
  const name = (bone: number) => rig.bones[bone].name;
  const node = (bone: number) => rig.bones[bone].nodeIndex;
  return {
    file,
    kind: rig.kind,
    humanoid: { verdict: match.creature.isHumanoid, reasons: [...match.creature.reasons] },
    source: {
      format: rig.source.format,
      unit: normalisation.scale,
      up: normalisation.up,
      facing: normalisation.facing,
      bones: rig.bones.length,
    },
    lines: match.lines.map((line) => ({ line: line.lineId, bones: line.bones.map(name), anchors: line.anchors })),
    assignments: Object.fromEntries(
      Object.values(match.assignments).map((found) => [
        found.role,
        {
          bone: name(found.boneIndex),
          boneIndex: node(found.boneIndex),
          confidence: round(found.confidence),
          state: found.state,
          evidence: found.evidence,
          runnersUp: found.runnersUp.map((runner) => ({
            bone: name(runner.boneIndex),
            boneIndex: node(runner.boneIndex),
            confidence: round(runner.confidence),
          })),
        },
      ]),
    ),
    spares: match.spares.map((spare) => ({
      bone: name(spare.boneIndex),
      boneIndex: node(spare.boneIndex),
      kind: spare.kind,
    })),
    posture: {
      class: summary.class,
      deviationsDeg: Object.fromEntries(
        measure.deviations.map((deviation) => [deviation.role, toDegrees(deviation.deviationRad)]),
      ),
      rollsDeg: Object.fromEntries(
        measure.deviations.flatMap((deviation) =>
          deviation.rollRad === null ? [] : [[deviation.role, toDegrees(deviation.rollRad)]],
        ),
      ),
    },
    findings: [...findings],
    ms,
  };
}

const round = (value: number): number => Math.round(value * 1000) / 1000;

/** 2: a file was unreadable; 1: a file has blockers; 0: neither. */
export function exitCodeOf(lines: readonly (Inspection | Unreadable)[]): 0 | 1 | 2 {
  if (lines.some((line) => 'error' in line)) return 2;
  return lines.some((line) => 'findings' in line && countBlockers(line.findings) > 0) ? 1 : 0;
}
