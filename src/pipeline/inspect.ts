import type { Inspection, Unreadable } from '@/contract/inspection';
import { countBlockers } from '@/core/checks/run-checks';
import type { Definition } from '@/core/definition/definition';
import type { EngineProfile } from '@/core/profile/profile';
import type { Rig } from '@/core/rig/rig';
import { assessFit } from './judge';
import type { Match } from '@/core/match/context/match-types';
import type { FirstPass } from '@/core/match/first-pass';
import { initialFit } from '@/core/fit/fit';

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
    assignments: assignmentsOf(rig, match),
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
    findings: findings.map(({ key: _key, amount: _amount, parts: _parts, repair: _repair, ...finding }) => finding),
    ms,
  };
}

/** Roles with their bones, by name and by node, how sure they are and why. */
export function assignmentsOf(rig: Rig, match: Match): Inspection['assignments'] {
  const name = (bone: number) => rig.bones[bone].name;
  const node = (bone: number) => rig.bones[bone].nodeIndex;
  return Object.fromEntries(
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
  );
}

const round = (value: number): number => Math.round(value * 1000) / 1000;

/** 2: a file was unreadable; 1: a file has blockers; 0: neither. */
export function exitCodeOf(lines: readonly (Inspection | Unreadable)[]): 0 | 1 | 2 {
  if (lines.some((line) => 'error' in line)) return 2;
  return lines.some((line) => 'findings' in line && countBlockers(line.findings) > 0) ? 1 : 0;
}
